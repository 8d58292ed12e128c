/** How far off the litres may be, and which readings that comes from. */
import type { Schemas } from "../../api/client";
import type { Figure, Plan } from "../../api/queries";
import { text } from "../../domain/format";
import { Fig } from "../../ui/Fig";
import { useUnits } from "../../ui/session";

export function Shares({
  shares,
  band,
  plan,
}: {
  shares: Schemas["SpreadShare"][];
  band: Figure | null;
  plan: Plan;
}) {
  const { units } = useUnits();
  if (!band)
    return (
      <p className="text-[12px] text-slate">
        Type a spread with a reading, like 118 ± 1 mm, and the litres get their band.
      </p>
    );
  return (
    <details>
      <summary className="text-[13px] cursor-pointer">
        off by up to <b>{text(band.value, "volume", units)}</b>, most of it: {shares[0]?.reading}
      </summary>
      <table className="plain">
        <thead>
          <tr>
            <th scope="col">reading</th>
            <th scope="col" className="text-right!">
              off by
            </th>
            <th scope="col" className="text-right!">
              share
            </th>
          </tr>
        </thead>
        <tbody>
          {shares.map((one) => (
            <tr key={one.reading}>
              <td>{one.reading}</td>
              <td className="text-right">
                <Fig figure={one.half} plan={plan} />
              </td>
              <td className="text-right">{Math.round(one.share * 100)} %</td>
            </tr>
          ))}
          <tr className="font-semibold">
            <td>all together, squares added</td>
            <td className="text-right">
              <Fig figure={band} plan={plan} />
            </td>
            <td>
              <span className="sr-only">no share</span>
            </td>
          </tr>
        </tbody>
      </table>
    </details>
  );
}
