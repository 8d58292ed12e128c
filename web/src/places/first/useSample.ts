/** A piece to look at before anything of one's own is measured: a small block, its resin typical of its class. */
import { useNavigate } from "react-router";
import { keepFirstLook } from "../../api/operations.generated";
import { useEverythingAnew } from "../../api/queries";

export function useSample() {
  const navigate = useNavigate();
  const anew = useEverythingAnew();
  return async () => {
    const readings = { length: "230 mm", width: "170 mm", depth: "60 mm" };
    const look = { bench: "block or form" as const, readings, choices: {}, amount: "", film: "", rule: "" };
    const kept = await keepFirstLook({ look, name: "Sample block, to look at" });
    await anew();
    navigate(`/pieces/${kept.id}/layers`);
  };
}
