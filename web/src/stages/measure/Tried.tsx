/** What is being measured, to scale and in litres, before it is added. */
import type { Plan } from "../../api/queries";
import { text } from "../../domain/format";
import { LittleSection } from "../../drawing/LittleSection";
import { useUnits } from "../../ui/session";

export function Tried({ plan, id, tint }: { plan: Plan | null; id: string; tint: string }) {
  const { units } = useUnits();
  const section = plan?.sections.find((one) => one.void_id === id);
  const net =
    plan?.voids.find((one) => one.void_id === id)?.net ?? plan?.coats?.find((one) => one.coat_id === id)?.net;
  return (
    <div aria-live="polite" className="min-h-[150px] max-w-[420px]">
      {plan && net ? (
        <>
          <p className="text-[20px] font-semibold tabular-nums">
            {text(net.value, net.quantity, units)}{" "}
            <span className="text-[13px] font-medium text-slate">
              {plan.coats?.some((one) => one.coat_id === id) ? "on it" : "to fill"}, not added yet
            </span>
          </p>
          {section ? (
            <LittleSection plan={plan} section={section} tint={tint} cursor={null} tall={120} />
          ) : null}
        </>
      ) : (
        <p className="text-[13px] text-slate">Drawn to scale here once every measure is typed.</p>
      )}
    </div>
  );
}
