/** A computed figure that opens its working: formula, numbers put in, where each came from, source. */
import { Popover } from "radix-ui";
import { Link } from "react-router";
import type { Figure, Plan, Working } from "../api/queries";
import { lineOf } from "../domain/sheet-reading";
import { show, text } from "../domain/format";
import { useUnits } from "./session";

// A working is long: it scrolls where there is less room above or below its figure.
const ROOM = "max-h-[min(70vh,var(--radix-popover-content-available-height))] overflow-auto";

export const ORIGINS: Record<string, string> = {
  chosen: "your choice",
  measured: "measured",
  learned: "learned",
  sheet: "data sheet",
  typical: "typical, not confirmed",
  computed: "computed",
};

interface Props {
  figure: Figure | null | undefined;
  plan: Pick<Plan, "workings">;
  className?: string;
  label?: string;
  provisional?: boolean | undefined;
  unitClass?: string | undefined;
  /** Shown in this form instead, where the place asks for one unit always. */
  as?: { number: string; unit: string } | undefined;
}

export function Fig({
  figure,
  plan,
  className = "",
  label,
  provisional,
  unitClass = "[font-size:max(12px,0.65em)] font-medium",
  as,
}: Props) {
  const { units, currency } = useUnits();
  if (!figure) return <span className={className}>–</span>;
  const shown = as ?? show(figure.value, figure.quantity, units, currency);
  const working = plan.workings[figure.working];
  return (
    <Popover.Root>
      <Popover.Trigger
        className={`min-h-6 text-left underline decoration-dotted decoration-1 underline-offset-4 decoration-slate tabular-nums ${className}`}
        aria-label={`${label ?? working?.name ?? "figure"}: ${shown.number} ${shown.unit}. Show the working`}
      >
        {provisional ? "≈ " : ""}
        {shown.number}
        {shown.unit ? <span className={unitClass}> {shown.unit}</span> : null}
      </Popover.Trigger>
      {working ? (
        <Popover.Portal>
          <Popover.Content
            className={`z-50 bg-paper border border-ink p-4 w-[min(360px,calc(100vw-16px))] text-[13px] ${ROOM}`}
            sideOffset={6}
            collisionPadding={8}
          >
            <WorkingPanel working={working} shown={as} />
          </Popover.Content>
        </Popover.Portal>
      ) : null}
    </Popover.Root>
  );
}

export function WorkingPanel({ working, shown }: { working: Working; shown?: Props["as"] }) {
  const { units, currency } = useUnits();
  return (
    <section aria-label={`Working of ${working.name}`}>
      <h2 className="text-[17px]">{working.name}</h2>
      <p className="mt-1 text-[20px] font-semibold tabular-nums">
        {shown ? `${shown.number} ${shown.unit}` : text(working.value, working.quantity, units, currency)}
      </p>
      <p className="mt-1">= {working.formula}</p>
      {working.inputs.length ? (
        <table className="plain mt-2">
          <tbody>
            {working.inputs.map((input, index) => (
              <tr key={index}>
                <th scope="row" className="font-normal!">
                  {input.name}
                </th>
                <td className="text-right whitespace-nowrap">
                  {input.as_typed || text(input.value, input.quantity, units, currency)}
                </td>
                <td className={input.origin === "typical" ? "text-rust" : "text-slate"}>
                  {input.read_from ? (
                    <Link className="quiet" to={lineOf(input.read_from)} title={input.read_from.written}>
                      data sheet
                    </Link>
                  ) : input.origin === "typical" ? (
                    "typical"
                  ) : (
                    ORIGINS[input.origin]
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
      {(working.notes ?? []).map((note) => (
        <p key={note} className="mt-2">
          {note}
        </p>
      ))}
      <p className="mt-2 text-slate">Source: {working.source}</p>
    </section>
  );
}
