/** What rules of thumb would lay here, beside what is wanted. */
import type { Plan } from "../../api/queries";
import { film } from "../../domain/format";
import { Fig } from "../../ui/Fig";

interface Props {
  figures: NonNullable<Plan["coats"]>[number];
  plan: Plan;
  /** the rule that this coat's maker goes by */
  own?: string | null | undefined;
}

export function RuleTable({ figures, plan, own }: Props) {
  return (
    <table className="plain mt-1">
      <thead>
        <tr>
          <th scope="col">rule</th>
          <th scope="col" className="text-right!">
            film
          </th>
          <th scope="col" className="text-right!">
            here
          </th>
        </tr>
      </thead>
      <tbody>
        {(figures.schools ?? []).map((school) => (
          <tr key={school.rule} className={own && school.rule === own ? "font-semibold" : ""}>
            <td>
              {school.rule}
              {school.called ? (
                <>
                  <br />
                  <span className="text-slate">often called {film(school.called.value)}</span>
                </>
              ) : null}
            </td>
            <td className="text-right whitespace-nowrap">{film(school.film.value)}</td>
            <td className="text-right whitespace-nowrap">
              <Fig figure={school.volume} plan={plan} />
            </td>
          </tr>
        ))}
        <tr className="font-semibold">
          <td>what you want laid</td>
          <td className="text-right whitespace-nowrap">{film(figures.film.value)}</td>
          <td className="text-right whitespace-nowrap">
            <Fig figure={figures.net} plan={plan} />
          </td>
        </tr>
      </tbody>
    </table>
  );
}
