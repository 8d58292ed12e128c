/** What to buy: whole kits by system, what the shelf gives, what is left over, and how the answer was come
 *  by. */
import type { Schemas } from "../../api/client";
import { text } from "../../domain/format";
import { useUnits } from "../../ui/session";

export function Buying({ buy, title }: { buy: Schemas["ToBuy"][]; title: string }) {
  const { units, currency } = useUnits();
  const kg = (value: number) => text(value, "mass", units);
  const total = buy.reduce((sum, one) => sum + one.price_minor, 0);
  return (
    <section className="mt-4" aria-label={title}>
      <div className="flex justify-between items-baseline border-b border-ink pb-1">
        <h2>{title}</h2>
        <b className="font-semibold">
          {total ? text(total, "money", units, currency) : buy.some((one) => one.problem) ? "" : "nothing"}
        </b>
      </div>
      {buy.map((one) => (
        <div key={one.system_id} className="py-2 border-b border-line text-[13px]">
          <p className="font-medium">{one.name}</p>
          <p className="text-slate">
            {kg(one.need_kg)} needed
            {one.from_stock_kg ? `, ${kg(one.from_stock_kg)} from the shelf` : ", none free on the shelf"}
            {one.problem ? "" : `, ${kg(one.left_kg)} left over`}
          </p>
          {one.problem ? <p className="text-rust font-medium">{one.problem}</p> : null}
          {one.lines.length ? (
            <ul>
              {one.lines.map((line, index) => (
                <li key={index} className="flex justify-between gap-3">
                  <span>
                    {line.count} ×{" "}
                    {text(line.kit.amount, line.kit.by === "mass_kg" ? "mass" : "volume", units)}
                    {line.kit.origin === "typical" ? <span className="text-rust"> typical price</span> : null}
                    {new Set(one.lines.map((other) => other.opened_for)).size > 1 ? (
                      <span className="text-slate">, opened for {line.opened_for}</span>
                    ) : null}
                  </span>
                  <span className="tabular-nums">{text(line.price_minor, "money", units, currency)}</span>
                </li>
              ))}
            </ul>
          ) : null}
        </div>
      ))}
      <details className="text-[12.5px] text-slate">
        <summary className="cursor-pointer">How this was found</summary>
        <p>
          Bottles on the shelf first, as far as no other started piece has reserved them; what goes off first
          before the rest, both parts in their ratio, none past its date. For what is then short, every set of
          whole kits is weighed up in whole grams; the cheapest wins, and of equals the one that leaves least.
          A kit serves all pieces for as long as it keeps once opened
          {buy[0]?.opened_life_days ? ` (${Math.round(buy[0].opened_life_days)} days)` : ""}. Source: dynamic
          programming over the amount; prices and sizes from the sheet.
        </p>
      </details>
    </section>
  );
}
