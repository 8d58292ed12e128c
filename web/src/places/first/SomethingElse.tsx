/** What is none of the kinds on the bench: begun under its name, and measured shape by shape; or no piece at all,
 *  just an amount. */
import { useState } from "react";
import { useNavigate } from "react-router";
import { makePiece, readClasses } from "../../api/operations.generated";
import { useQuery } from "@tanstack/react-query";
import { useEverythingAnew, useShelf, type Piece } from "../../api/queries";
import { KINDS_OF_WORK, type KindOfWork } from "../../domain/work";
import { AnyAmount } from "../../stages/mix/AnyAmount";

export function SomethingElse() {
  const navigate = useNavigate();
  const anew = useEverythingAnew();
  const shelf = useShelf().data;
  const classes = useQuery({ queryKey: ["classes"], queryFn: readClasses }).data?.sheets;
  const own = new Set(shelf?.map((one) => one.system.id));
  const choices =
    shelf && classes
      ? [
          ...shelf.map((one) => ({ system: one.system, isTypical: false })),
          ...classes
            .filter((one) => !own.has(one.system.id))
            .map((one) => ({ system: one.system, isTypical: true })),
        ]
      : [];
  const [name, setName] = useState("");
  const [forWhom, setForWhom] = useState("");
  const [kind, setKind] = useState<KindOfWork>("deep pour");
  const [system, setSystem] = useState("");
  const [problem, setProblem] = useState("");
  const begin = async () => {
    if (!name.trim()) return setProblem("Give it a name you will know it by.");
    try {
      const stored = await makePiece({ name, for_whom: forWhom, kind_of_work: kind } as Piece);
      await anew();
      navigate(`/pieces/${stored.id}/measure`);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <div className="grid gap-8 mt-3 max-w-[760px] sm:grid-cols-2">
      <form
        className="grid gap-3 content-start"
        onSubmit={(event) => {
          event.preventDefault();
          void begin();
        }}
      >
        <h2>A piece to measure shape by shape</h2>
        <label className="label">
          name
          <input className="box" value={name} onChange={(event) => setName(event.target.value)} />
        </label>
        <label className="label">
          for whom
          <input className="box" value={forWhom} onChange={(event) => setForWhom(event.target.value)} />
        </label>
        <label className="label">
          kind of work
          <select
            className="box"
            value={kind}
            onChange={(event) => setKind(event.target.value as KindOfWork)}
          >
            {KINDS_OF_WORK.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </label>
        {problem ? (
          <p role="alert" className="text-rust">
            {problem}
          </p>
        ) : null}
        <p>
          <button className="key max-sm:min-h-12" type="submit">
            Begin
          </button>
        </p>
      </form>
      <section aria-label="Just an amount" className="grid gap-3 content-start">
        <h2>Just an amount</h2>
        {choices.length ? (
          <>
            <label className="label">
              of which resin
              <select className="box" value={system} onChange={(event) => setSystem(event.target.value)}>
                <option value="">choose one</option>
                {choices.map(({ system: one, isTypical }) => (
                  <option key={one.id} value={one.id}>
                    {one.name}
                    {isTypical ? ", typical" : ""}
                  </option>
                ))}
              </select>
            </label>
            {system ? <AnyAmount systemId={system} isOpen /> : null}
            {choices.find((one) => one.system.id === system)?.isTypical ? (
              <p className="text-[13px] text-rust">
                By the ratio and densities typical of this class, not your sheet. Look them up before you mix.
              </p>
            ) : null}
          </>
        ) : (
          <p className="text-slate">Looking up the resins …</p>
        )}
      </section>
    </div>
  );
}
