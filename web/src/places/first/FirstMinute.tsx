/** The first minute: what lies on the bench, how big it is, how much is wanted on it; the answer beside it from the
 *  first number on. Nothing is kept before it is asked for; what is typed is still there after a reload. */
import { forget, remember, remembered } from "../../api/memory";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import { useNavigate } from "react-router";
import { keepFirstLook, readClasses } from "../../api/operations.generated";
import { useEverythingAnew, useShelf } from "../../api/queries";
import { text } from "../../domain/format";
import { useShop, useUnits } from "../../ui/session";
import { useOpenWorkshop } from "../../ui/sheets";
import { Answer } from "./Answer";
import { BenchDrawing, DrawnField } from "./BenchDrawing";
import { BENCHES, type Bench, type FirstAnswer, type FirstLook } from "./benches";
import { SomethingElse } from "./SomethingElse";
import { useFirstLook } from "./useFirstLook";

const KEPT = "cavatum-first-look";
const FRESH: FirstLook = {
  bench: "block or form",
  readings: {},
  choices: {},
  amount: "",
  film: "",
  rule: "",
  system_id: null,
};
const SIDES = ["amount", "film", "rule"] as const;
const SIDE_WORDS = { amount: "the amount you would mix", film: "the film it leaves", rule: "your rule" };

function restored(): FirstLook {
  return { ...FRESH, ...(JSON.parse(remembered("session", KEPT) ?? "{}") as Partial<FirstLook>) };
}

export function FirstMinute() {
  const { units } = useUnits();
  const navigate = useNavigate();
  const anew = useEverythingAnew();
  const openWorkshop = useOpenWorkshop();
  const [look, setLook] = useState(restored);
  const [isElse, setElse] = useState(false);
  const [name, setName] = useState("");
  const [isBusy, setBusy] = useState(false);
  const [refused, setRefused] = useState("");
  const { workshop } = useShop();
  const { answer, problem, isLate } = useFirstLook(
    look,
    JSON.stringify([units, workshop.room_c, workshop.residue_fraction, workshop.residue_m3]),
  );
  const shelf = useShelf();
  const classes = useQuery({ queryKey: ["classes"], queryFn: readClasses });
  useEffect(() => {
    remember("session", KEPT, JSON.stringify(look));
  }, [look]);
  useEffect(() => {
    document.title = "New piece · Cavatum";
    return () => void (document.title = "Cavatum");
  }, []);
  const put = (part: Partial<FirstLook>) => setLook((now) => ({ ...now, ...part }));
  const focus = (key: string) =>
    key === "room" || key === "cup"
      ? openWorkshop(key)
      : document.querySelector<HTMLElement>(`[data-asks="${key}"] :is(input, select, button)`)?.focus();

  // What belongs to no field of this page.
  const fields = [...(answer?.asks ?? []).map((one) => one.key), ...SIDES].map((key) => `/${key}`);
  const elsewhere = problem && answer && !fields.includes(problem.pointer) ? problem.message : "";

  // The kind was tapped: its first measure waits for the number. By keyboard the choice goes on.
  const [waits, setWaits] = useState(false);
  const asks = answer?.asks;
  const first = asks?.find((one) => !look.readings?.[one.key])?.key ?? asks?.[0]?.key;
  useEffect(() => {
    if (!waits || !first) return;
    setWaits(false);
    requestAnimationFrame(() => focus(first)); // after the tap itself has put the focus on its radio
  }, [waits, first]); // eslint-disable-line

  const keep = async (weigh: boolean) => {
    setBusy(true);
    setRefused("");
    try {
      const kept = await keepFirstLook({ look, name });
      forget("session", KEPT);
      await anew();
      navigate(weigh ? `/pieces/${kept.id}/weigh/1/1` : `/pieces/${kept.id}/measure`);
    } catch (error) {
      setRefused((error as Error).message);
      setBusy(false);
    }
  };

  return (
    <div className="grid grid-cols-[minmax(0,1fr)_364px] max-lg:grid-cols-1">
      <div
        role="group"
        aria-label="What, how big, how much"
        className="px-7 py-4 max-sm:px-3"
        onKeyDown={toTheNext}
      >
        <h1 className="text-[30px] max-sm:text-[24px]">What lies on the bench?</h1>
        <Kinds
          bench={isElse ? null : look.bench}
          choose={(bench) => {
            setElse(bench === null);
            if (bench) put({ bench });
          }}
          onTap={() => setWaits(true)}
        />
        {isElse ? (
          <SomethingElse />
        ) : (
          <>
            <h2 className="mt-3">
              How big is it? <span className="font-sans text-[14px] text-slate">Type on the drawing.</span>
            </h2>
            <BenchDrawing
              bench={look.bench}
              asks={answer?.asks ?? []}
              readings={look.readings ?? {}}
              problem={problem}
              unit={units === "us" ? "in" : "mm"}
              says={sizeOf(answer, units)}
              onType={(key, typed) => put({ readings: { ...look.readings, [key]: typed } })}
            />
            <div className="flex flex-wrap gap-x-6 gap-y-2 mt-2">
              {(answer?.choices ?? []).map((choice) => (
                <fieldset
                  key={choice.key}
                  data-asks={choice.key}
                  className="flex flex-wrap gap-x-3 text-[14px]"
                >
                  <legend className="float-left text-slate mr-2">{choice.label}:</legend>
                  {choice.options.map((option) => {
                    const isOn = (look.choices?.[choice.key] || choice.options[0]) === option;
                    return (
                      <label key={option} className="inline-flex gap-1.5 items-center min-h-8">
                        <input
                          type="radio"
                          name={`first-${choice.key}`}
                          checked={isOn}
                          onChange={() => put({ choices: { ...look.choices, [choice.key]: option } })}
                        />
                        {option}
                      </label>
                    );
                  })}
                </fieldset>
              ))}
            </div>
            {answer?.is_coat ? <HowMuch look={look} answer={answer} problem={problem} put={put} /> : null}
          </>
        )}
      </div>
      {isElse ? null : (
        <aside
          aria-label="The answer"
          className="border-l border-line px-6 py-4 max-lg:border-l-0 max-lg:border-t max-sm:px-3"
        >
          <Answer
            answer={answer}
            problem={problem}
            shelf={shelf.data ?? []}
            classes={classes.data?.sheets ?? []}
            isBusy={isBusy}
            isLate={isLate}
            onSystem={(system_id) => put({ system_id })}
            onTaken={focus}
            onKeep={(weigh) => void keep(weigh)}
          />
          {answer || problem ? (
            <label className="block mt-3 text-[13px] text-slate">
              called
              <input
                className="box"
                value={name}
                placeholder={look.bench.charAt(0).toUpperCase() + look.bench.slice(1)}
                onChange={(event) => setName(event.target.value)}
              />
            </label>
          ) : null}
          {refused || elsewhere ? (
            <p role="alert" className="mt-2 text-rust font-medium">
              {refused || elsewhere}
            </p>
          ) : null}
        </aside>
      )}
    </div>
  );
}

const ELSE_MARK = "M32 12V38M19 25H45";

/** Enter goes to the next field, and from the last one to the answer. */
function toTheNext(event: KeyboardEvent<HTMLElement>) {
  const here = event.target as HTMLElement;
  if (event.key !== "Enter" || !here.matches("[data-asks] input:not([type=radio])")) return;
  event.preventDefault();
  const all = [...event.currentTarget.querySelectorAll<HTMLElement>("[data-asks] input:not([type=radio])")];
  const next = all[all.indexOf(here) + 1];
  (next ?? document.querySelector<HTMLElement>("[data-answer] button:not(:disabled)"))?.focus();
}

interface KindsProps {
  bench: Bench | null;
  choose: (bench: Bench | null) => void;
  /** chosen by a finger or a mouse, not by arrow keys */
  onTap: () => void;
}

function Kinds({ bench, choose, onTap }: KindsProps) {
  const isTap = useRef(false);
  const tiles: { bench: Bench | null; mark: string }[] = [...BENCHES, { bench: null, mark: ELSE_MARK }];
  return (
    <fieldset className="mt-2 grid grid-cols-8 max-md:grid-cols-4 gap-1 min-w-0 max-w-[920px]">
      <legend className="sr-only">What lies on the bench</legend>
      {tiles.map((one) => (
        <label
          key={one.bench ?? "else"}
          onPointerDown={() => (isTap.current = true)}
          className={`tile text-[13px] ${one.bench === bench ? "border-spruce bg-raised font-semibold" : "border-transparent text-slate"}`}
        >
          <input
            type="radio"
            name="bench"
            className="sr-only"
            checked={one.bench === bench}
            onChange={() => choose(one.bench)}
            onKeyDown={() => (isTap.current = false)}
            onClick={() => isTap.current && onTap()}
          />
          <svg
            width="64"
            height="50"
            viewBox="0 0 64 50"
            aria-hidden
            className="stroke-current"
            fill="none"
            strokeWidth="1.6"
          >
            <path d={one.mark} />
          </svg>
          {one.bench ?? "something else"}
        </label>
      ))}
    </fieldset>
  );
}

interface HowMuchProps {
  look: FirstLook;
  answer: FirstAnswer | null;
  problem: ReturnType<typeof useFirstLook>["problem"];
  put: (part: Partial<FirstLook>) => void;
}

function HowMuch({ look, answer, problem, put }: HowMuchProps) {
  const sides = answer?.sides;
  return (
    <section aria-label="How much" className="mt-3">
      <h2>
        How much do you want on it?{" "}
        <span className="font-sans text-[14px] text-slate">Any one of the three; the others follow.</span>
      </h2>
      <div className="grid grid-cols-3 gap-3 mt-1 max-w-[860px] max-sm:grid-cols-1">
        {SIDES.map((side) => (
          <div key={side} data-asks={side}>
            <DrawnField
              label={SIDE_WORDS[side]}
              help=""
              typed={look[side] ?? ""}
              taken={sides?.[side] ?? ""}
              unit=""
              problem={problem?.pointer === `/${side}` ? problem : null}
              onType={(typed) => put({ amount: "", film: "", rule: "", [side]: typed })}
            />
          </div>
        ))}
      </div>
      {sides ? <p className="mt-1.5 text-[14px]">{sides.says}</p> : null}
    </section>
  );
}

/** How large it is, and how much of it there is, for the middle of the drawing. */
function sizeOf(
  answer: FirstAnswer | null,
  units: ReturnType<typeof useUnits>["units"],
): [string, (string | undefined)?] {
  const plan = answer?.plan;
  const coat = plan?.coats?.[0];
  if (coat) {
    const edges = coat.edges ? `edges coated too: ${text(coat.area.value, "area", units)}` : undefined;
    return [`${text(coat.faces.value, "area", units)} on top`, edges];
  }
  const hollow = plan?.voids[0];
  return hollow ? [`${text(hollow.net.value, "volume", units)} to fill`] : [""];
}
