/** The form round a void: dam, release, joints, leak test, and what the liquid does to it. */
import type { Schemas, Present } from "../../api/client";
import type { Plan, Void } from "../../api/queries";
import { Fig } from "../../ui/Fig";
import { QuantityField } from "../../ui/QuantityField";
import type { VoidChange } from "./ShapeFields";
import { Check } from "../../ui/Check";

type Form = NonNullable<Void["form"]>;
const RELEASE: [NonNullable<Form["release"]>, string][] = [
  ["not said", "not said"],
  ["tape", "release tape"],
  ["agent", "release agent"],
  ["mould needs none", "the mould needs none"],
];
const EMPTY: Form = { dam_m: null, release: "not said", joints_sealed: false, leak_tested: false };

export function FormFields({
  hollow,
  index,
  figures,
  plan,
  change,
}: {
  hollow: Void;
  index: number;
  figures: Schemas["FormPlan"] | null;
  plan: Plan;
  change: VoidChange;
}) {
  const form = hollow.form ?? EMPTY;
  const set = (what: string, part: Partial<Form>) =>
    change(what, (one) => ({ ...one, form: { ...(one.form ?? EMPTY), ...part } }));
  return (
    <fieldset className="border-t border-line pt-2">
      <legend className="float-left w-full text-[13px] font-semibold">The form round it</legend>
      <div className="clear-both grid grid-cols-2 gap-2.5">
        <QuantityField
          label="dam above the rim"
          kind="length"
          optional
          reading={form.dam_m}
          pointer={`/voids/${index}/form/dam_m`}
          onCommit={(dam_m) => set("dam", { dam_m })}
        />
        <div>
          <label className="label" htmlFor={`release-${hollow.id}`}>
            release
          </label>
          <select
            id={`release-${hollow.id}`}
            className="box"
            value={form.release}
            onChange={(event) =>
              void set("release", { release: event.target.value as Present<Form["release"]> })
            }
          >
            {RELEASE.map(([value, word]) => (
              <option key={value} value={value}>
                {word}
              </option>
            ))}
          </select>
        </div>
        <Check checked={form.joints_sealed ?? false} onChange={(on) => set("joints", { joints_sealed: on })}>
          joints sealed
        </Check>
        <Check checked={form.leak_tested ?? false} onChange={(on) => set("leak test", { leak_tested: on })}>
          leak-tested and dry
        </Check>
      </div>
      {figures ? (
        <p className="text-[13px] mt-1">
          The deepest layer presses with <Fig figure={figures.pressure} plan={plan} /> at its foot, pushes
          with{" "}
          {figures.forces.map((force, at) => (
            <span key={force.working}>
              {at ? " and " : ""}
              <Fig figure={force} plan={plan} />
            </span>
          ))}{" "}
          on the long and the short side; dam at least <Fig figure={figures.dam_least} plan={plan} />
          {figures.freeboard ? (
            <>
              ; freeboard <Fig figure={figures.freeboard} plan={plan} />
            </>
          ) : null}
          .
        </p>
      ) : null}
    </fieldset>
  );
}
