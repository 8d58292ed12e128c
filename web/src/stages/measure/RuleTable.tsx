/** What rules of thumb would lay here, beside what is wanted. */
import type { Plan } from "../../api/queries";
import { film } from "../../domain/format";
import { Fig } from "../../ui/Fig";

interface Props {
  figures: NonNullable<Plan["coats"]>[number];
  plan: Plan;
  /** the rule that this coat's maker goes by */
  own?: string | null | undefined;
  /** takes a rule for one coat */
  onTake?: ((typed: string, isFilm: boolean, rule: string) => void) | undefined;
  /** which coat that is, in words */
  takenFor?: string;
}

export function RuleTable({ figures, plan, own, onTake, takenFor = "" }: Props) {
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
          {onTake ? (
            <th scope="col">
              <span className="sr-only">take it</span>
            </th>
          ) : null}
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
            {onTake ? (
              <td className="text-right">
                <button
                  className="quiet"
                  aria-label={`Take ${school.rule} for ${takenFor}`}
                  onClick={() => onTake(school.typed, school.is_film ?? false, school.rule)}
                >
                  take
                </button>
              </td>
            ) : null}
          </tr>
        ))}
        {(figures.lays ?? []).map((lay) => (
          <tr key={lay.lay_id} className="font-semibold">
            <td>
              {lay.times > 1
                ? `coats ${lay.first} to ${lay.first + lay.times - 1}, each`
                : `coat ${lay.first}`}
            </td>
            <td className="text-right whitespace-nowrap">{film(lay.film.value)}</td>
            <td className="text-right whitespace-nowrap">
              <Fig figure={lay.mixed} plan={plan} />
            </td>
            {onTake ? <td aria-hidden /> : null}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
