/** What a piece that is only coated has in place of layers: its films one after another, what each rule would lay, how it
 *  creeps and what an edge keeps. */
import { useState } from "react";
import { Link } from "react-router";
import { Verdicts } from "../../ui/Verdicts";
import { SectionAndClock } from "../Drawings";
import type { StageProps } from "../props";
import { Spread } from "../Spread";
import { LayList } from "../measure/LayList";
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
              Measure the surface anew, or add one
            </Link>
          </p>
          <WhatIf stored={stored} plan={plan} edits={edits} voidId={voidId} preview={preview} />
        </>
      }
    >
      <SectionAndClock />
      <Stack {...props} />
    </Spread>
  );
}

/** The coats of the surface that is drawn, to be typed here too. */
function Stack({ stored, plan, edits, voidId }: StageProps) {
  const coats = stored.piece.coats ?? [];
  const found = coats.findIndex((one) => one.id === voidId);
  const index = found < 0 ? 0 : found;
  const coat = coats[index];
  const [chosen, choose] = useState("");
  if (!coat) return null;
  return (
    <div className="mt-4 max-w-[860px]">
      <LayList
        coat={coat}
        index={index}
        piece={stored.piece}
        plan={plan}
        chosen={chosen}
        choose={choose}
        change={(what, fn) =>
          edits.edit(what, (now) => ({
            ...now,
            coats: (now.coats ?? []).map((one) => (one.id === coat.id ? fn(one) : one)),
          }))
        }
      />
    </div>
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
