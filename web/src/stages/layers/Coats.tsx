/** What a piece that is only coated has in place of layers: its films one after another, what each rule would lay, how it
 *  creeps and what an edge keeps. */
import { Link } from "react-router";
import { Verdicts } from "../../ui/Verdicts";
import { SectionAndClock } from "../Drawings";
import type { StageProps } from "../props";
import { Spread } from "../Spread";
import { RuleTable } from "../measure/RuleTable";
import { WhatIf } from "./WhatIf";

export function Coats(props: StageProps) {
  const { stored, plan, edits, voidId, preview } = props;
  return (
    <Spread
      question="Which coats, one after another?"
      strip="none"
      side={
        <>
          <Verdicts verdicts={plan.verdicts} stage="layers" />
          <Films plan={plan} voidId={voidId} />
          <p className="mt-3">
            <Link className="quiet" to={`/pieces/${stored.id}/measure`}>
              Change a film, add a coat
            </Link>
          </p>
          <WhatIf stored={stored} plan={plan} edits={edits} voidId={voidId} preview={preview} />
        </>
      }
    >
      <SectionAndClock />
    </Spread>
  );
}

/** The film that is wanted beside what rules of thumb would lay. */
function Films({ plan, voidId }: Pick<StageProps, "plan" | "voidId">) {
  const figures = plan.coats?.find((one) => one.coat_id === voidId) ?? plan.coats?.[0];
  if (!figures) return null;
  return (
    <section aria-label="Films" className="mt-4">
      <h2>What rules of thumb would lay</h2>
      <RuleTable figures={figures} plan={plan} />
    </section>
  );
}
