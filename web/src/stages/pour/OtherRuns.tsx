/** Several pours at once: the others stand here with what is next of each; one that is due says so. */
import { listRuns } from "../../api/operations.generated";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { useUnits } from "../../ui/session";
import { clockTime } from "./words";

export function OtherRuns({ not }: { not: number }) {
  const { zone } = useUnits();
  const found = useQuery({
    queryKey: ["runs", "open"],
    queryFn: async () => (await listRuns()).runs,
    refetchInterval: 5000,
    retry: false,
  });
  const others = (found.data ?? []).filter((one) => one.id !== not && !one.is_rehearsal && one.step);
  if (!others.length) return null;
  return (
    <nav aria-label="Other pours" className="border-t border-line flex flex-wrap gap-x-8">
      {others.map((one) => {
        const due = one.opens_at && +new Date(one.opens_at) <= +new Date(one.now);
        return (
          <Link
            key={one.id}
            to={`/runs/${one.id}`}
            className={`min-h-[64px] grid content-center text-[17px] ${due ? "text-rust font-semibold" : ""}`}
          >
            <b className="font-semibold">{one.piece}</b>
            <span>
              {one.step},{" "}
              {due
                ? "due now"
                : one.opens_at
                  ? clockTime(+new Date(one.opens_at), zone, +new Date(one.now))
                  : ""}
            </span>
          </Link>
        );
      })}
    </nav>
  );
}
