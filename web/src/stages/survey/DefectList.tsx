/** The marked defects: kind, size, through or blind, and what becomes of each. */
import { shapeOfDefect } from "../../api/operations.generated";
import { type Present } from "../../api/client";
import type { Piece, Plan, Stored, Void } from "../../api/queries";
import { text } from "../../domain/format";
import { freshId } from "../../domain/shapes";
import { QuantityField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { ChoiceField } from "../measure/ShapeFields";
import type { Edits } from "../usePieceEdits";
import { DEFECTS, EMPTY_SURVEY, TREATS, type Defect, type Survey } from "./survey";
import { Check } from "../../ui/Check";

interface Props {
  stored: Stored;
  survey: Survey;
  plan: Plan;
  edits: Edits;
}

export function DefectList({ stored, survey, plan, edits }: Props) {
  const { units } = useUnits();
  const defects = survey.defects ?? [];
  const change = (what: string, id: string, part: Partial<Defect>) =>
    edits.edit(what, (now) => ({
      ...now,
      survey: {
        ...(now.survey ?? EMPTY_SURVEY),
        defects: (now.survey?.defects ?? []).map((one) => (one.id === id ? { ...one, ...part } : one)),
      },
    }));
  const makeVoid = async (defect: Defect) => {
    const { shape } = await shapeOfDefect({
      survey,
      defect_id: defect.id,
    });
    await edits.edit("made a void of a defect", (now: Piece) => {
      const id = freshId(
        "void",
        [...(now.voids ?? []), ...(now.coats ?? [])].map((one) => one.id),
      );
      const hollow = {
        id,
        name: `${defect.kind} ${defects.indexOf(defect) + 1}`,
        count: 1,
        wall: "wood",
        shape,
        portions: [{ id: `${id}-p`, colour: "" }],
      } as Void;
      const marked = (now.survey?.defects ?? []).map((one) =>
        one.id === defect.id ? { ...one, treat: "void" as const, void_id: id } : one,
      );
      return {
        ...now,
        voids: [...(now.voids ?? []), hollow],
        survey: { ...(now.survey ?? EMPTY_SURVEY), defects: marked },
      };
    });
  };
  return (
    <section className="mt-4" aria-label="Defects">
      <h2>Defects</h2>
      {defects.length === 0 ? (
        <p className="text-[13px] text-slate mt-1">None marked. Tap on the plan view where one is.</p>
      ) : null}
      <ul className="rule">
        {defects.map((defect, index) => {
          const patch = plan.survey?.patches.find((one) => one.defect_id === defect.id);
          const place = `/survey/defects/${index}`;
          const made = (stored.piece.voids ?? []).find((one) => one.id === defect.void_id);
          const deep = defect.is_through ? (survey.thickness_m ?? defect.depth_m) : defect.depth_m;
          return (
            <li key={defect.id} className="py-2 grid grid-cols-[24px_1fr] gap-x-2">
              <b className="text-[15px]">{index + 1}</b>
              <div className="grid grid-cols-2 gap-2">
                <ChoiceField
                  choice={{
                    key: `kind-${defect.id}`,
                    label: "kind",
                    options: DEFECTS.map((one) => [one, one]),
                  }}
                  value={defect.kind}
                  onChoose={(kind) =>
                    void change("kind of defect", defect.id, { kind: kind as Defect["kind"] })
                  }
                />
                <ChoiceField
                  choice={{
                    key: `treat-${defect.id}`,
                    label: "becomes",
                    options: TREATS.filter(([value]) => value !== "void" || made),
                  }}
                  value={defect.treat ?? "note"}
                  onChoose={(treat) =>
                    void change("what becomes of it", defect.id, { treat: treat as Present<Defect["treat"]> })
                  }
                />
                <QuantityField
                  label="long"
                  kind="length"
                  reading={defect.length_m}
                  pointer={`${place}/length_m`}
                  onCommit={(reading) =>
                    reading ? change("length of a defect", defect.id, { length_m: reading }) : undefined
                  }
                />
                <QuantityField
                  label="wide"
                  kind="length"
                  reading={defect.width_m}
                  pointer={`${place}/width_m`}
                  onCommit={(reading) =>
                    reading ? change("width of a defect", defect.id, { width_m: reading }) : undefined
                  }
                />
                <QuantityField
                  label="deep"
                  kind="length"
                  optional
                  reading={defect.depth_m}
                  pointer={`${place}/depth_m`}
                  onCommit={(depth_m) => change("depth of a defect", defect.id, { depth_m })}
                />
                <Check
                  className="items-center self-end min-h-9"
                  checked={defect.is_through ?? false}
                  onChange={(on) => change("through", defect.id, { is_through: on })}
                >
                  goes through
                </Check>
                {patch ? (
                  <p className="col-span-2 text-[13px]">
                    Patch: {patch.words}; {text(patch.tape_from_m, "length", units)} to{" "}
                    {text(patch.tape_to_m, "length", units)} wide, {text(patch.length_m, "length", units)}{" "}
                    long.{" "}
                    <a
                      className="quiet"
                      href={`/api/v1/pieces/${stored.id}/patches/${defect.id}?format=pdf`}
                      download
                    >
                      Template to print
                    </a>{" "}
                    <a
                      className="quiet"
                      href={`/api/v1/pieces/${stored.id}/patches/${defect.id}?format=svg`}
                      download
                    >
                      SVG
                    </a>{" "}
                    <a
                      className="quiet"
                      href={`/api/v1/pieces/${stored.id}/patches/${defect.id}?format=dxf`}
                      download
                    >
                      DXF
                    </a>
                  </p>
                ) : null}
                <p className="col-span-2 flex gap-4">
                  {made ? (
                    <span className="text-[13px]">Filled as “{made.name}”.</span>
                  ) : (
                    <button
                      className="quiet"
                      disabled={!deep}
                      title={deep ? undefined : "Its depth is needed"}
                      onClick={() => void makeVoid(defect)}
                    >
                      {deep ? "Make it a void to fill" : "Type its depth to fill it"}
                    </button>
                  )}
                  <button
                    className="quiet"
                    onClick={() =>
                      void edits.edit("took out a defect", (now) => ({
                        ...now,
                        survey: {
                          ...(now.survey ?? EMPTY_SURVEY),
                          defects: (now.survey?.defects ?? []).filter((one) => one.id !== defect.id),
                        },
                      }))
                    }
                  >
                    Take it out
                  </button>
                </p>
              </div>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
