/** One photo in low side light: corners marked, the lamp's side said, what stands out counted, marked and kept; the
 *  newest two side by side. */
import { useState } from "react";
import { Link, useParams } from "react-router";
import { aboutPhoto, keepFile, markSideLight } from "../../../api/operations.generated";
import type { Schemas } from "../../../api/client";
import { moment } from "../../../domain/format";
import { fileUrl, Marked } from "../../../ui/Marked";
import { useShop, useUnits } from "../../../ui/session";
import { Waiting } from "../../../ui/states";
import { useRun, type OpenRun } from "../useRun";
import { FaceBoard, FaceFields, useFace } from "./Face";

type When = Schemas["SideLightBody"]["when"];
type Lamp = Schemas["SideLightBody"]["lamp"];
const WHEN: When[] = ["before the pour", "after the pour", "at the inspection"];
const LAMPS: Lamp[] = ["left", "right", "far", "near"];

export function SideLight() {
  const id = Number(useParams().run);
  const open = useRun(id);
  if (!open.run || !open.state || !open.view) return <Waiting error={open.error} what="the run" />;
  return <Photo key={id} open={open} />;
}

function Photo({ open }: { open: OpenRun }) {
  const run = open.run!;
  const { zone } = useUnits();
  const { role } = useShop();
  const undone = new Set(open.state!.undone);
  const kept = open.events.flatMap((one) =>
    one.event.kind === "saw" &&
    (WHEN as string[]).includes(one.event.what) &&
    one.event.size &&
    !undone.has(one.event_id)
      ? [{ at: one.at, event: one.event }]
      : [],
  );
  return (
    <main className="bench-mode min-h-dvh max-w-[1280px] mx-auto px-6 py-4 max-sm:px-4 max-sm:py-3">
      <Link to={`/runs/${run.id}`} className="big-quiet px-0! no-underline! text-ink!">
        <span>
          <b className="font-semibold">‹ {run.script.piece}</b>
          <span className="sr-only">, back to the run</span>
        </span>
      </Link>
      <h1 className="text-[44px] leading-[1.05] max-sm:text-[32px] mt-1">A photo in low side light</h1>
      <p className="text-[18px] max-w-[62ch] mt-1">
        Hold a lamp low at one side, so that the face is dark and every spot shines or throws a shadow. It
        counts dust that stands up, craters and pits that go down, and hairs. What is smaller than about half
        a millimetre it does not see.
      </p>
      {role === "viewer" ? null : <Taking run={run.id} pieceId={run.piece_id ?? null} open={open} />}
      {kept.length ? (
        <section aria-label="Photos in low side light" className="mt-6">
          <h2>{kept.length > 1 ? "The newest two, side by side" : "In the record"}</h2>
          <ul className="grid grid-cols-2 max-sm:grid-cols-1 gap-4 mt-1">
            {kept.slice(-2).map(({ at, event }) => (
              <li key={at}>
                <Marked
                  src={fileUrl(event.sha256 ?? "")}
                  size={event.size as [number, number]}
                  marks={event.marks ?? []}
                  alt={event.words}
                  className="w-full"
                />
                <p className="text-[17px]">
                  <b className="font-semibold">{event.words}.</b>{" "}
                  <span className="text-slate">{moment(at, zone)}</span>
                </p>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
    </main>
  );
}

function Taking({ run, pieceId, open }: { run: number; pieceId: number | null; open: OpenRun }) {
  const face = useFace(pieceId);
  const [sha256, setSha256] = useState("");
  const [lamp, setLamp] = useState<Lamp>("left");
  const [when, setWhen] = useState<When>(WHEN[0]!);
  const [says, setSays] = useState("");
  const take = async (file: File) => {
    setSays("Sending the photo …");
    try {
      const { sha256 } = await keepFile(file, { name: file.name.slice(-120) });
      const { width, height } = await aboutPhoto(sha256);
      setSha256(sha256);
      void face.show({ url: fileUrl(sha256), width, height });
      setSays("");
    } catch (error) {
      setSays((error as Error).message);
    }
  };
  const count = async () => {
    setSays("Looking …");
    try {
      const marked = await face.read();
      const answer = await markSideLight(run, {
        ...marked,
        sha256,
        lamp,
        when,
      });
      face.clear();
      setSays(`${answer.words}. It is in the record.`);
      void open.sync();
    } catch (error) {
      setSays((error as Error).message);
    }
  };
  return (
    <>
      {face.still ? (
        <form
          className="grid grid-cols-[minmax(0,1fr)_320px] max-md:grid-cols-1 gap-6 mt-3"
          onSubmit={(event) => {
            event.preventDefault();
            void count();
          }}
        >
          <FaceBoard face={face} />
          <div className="grid gap-3 text-[18px] content-start">
            <FaceFields face={face} />
            <label className="grid text-[15px] text-slate">
              the lamp stands on which side, in the photo
              <select
                className="box text-[19px]!"
                value={lamp}
                onChange={(event) => setLamp(event.target.value as Lamp)}
              >
                {LAMPS.map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </select>
            </label>
            <label className="grid text-[15px] text-slate">
              taken
              <select
                className="box text-[19px]!"
                value={when}
                onChange={(event) => setWhen(event.target.value as When)}
              >
                {WHEN.map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </select>
            </label>
            <button className="big-key">Count and mark</button>
            <button type="button" className="big-quiet" onClick={face.clear}>
              Another photo
            </button>
          </div>
        </form>
      ) : (
        <label className="big-key inline-grid content-center cursor-pointer mt-4">
          Take or choose a photo
          <input
            type="file"
            accept="image/*"
            capture="environment"
            className="sr-only"
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) void take(file);
              event.target.value = "";
            }}
          />
        </label>
      )}
      {says ? (
        <p role="status" className="text-[18px] font-semibold mt-3">
          {says}
        </p>
      ) : null}
    </>
  );
}
