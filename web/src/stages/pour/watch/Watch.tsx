/** A phone on a stand over the piece: marked once, then a picture every few seconds, looked at by the workshop's own
 *  computer. What is seen rings here as in the run. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState, type RefObject } from "react";
import { Link, useParams } from "react-router";
import { remember, remembered } from "../../../api/memory";
import { beginWatch, endWatch, listWatches, sendFrame } from "../../../api/operations.generated";
import { Refused, type Schemas } from "../../../api/client";
import { moment } from "../../../domain/format";
import { AlarmOverlay, since, useAwake, useSound, wakeSound } from "../../../ui/alarms";
import { useShop, useUnits } from "../../../ui/session";
import { useLatest } from "../../../ui/useLatest";
import { Waiting } from "../../../ui/states";
import { deviceName } from "../../../places/told/push";
import { ringingOf } from "../ringing";
import { useRun, type OpenRun } from "../useRun";
import { FaceBoard, FaceFields, useFace } from "./Face";
import { Lapse } from "./Lapse";
import { SeenList } from "./SeenList";
import type { Picture } from "./jpeg";
import { useCamera } from "./useCamera";

type Watched = Schemas["WatchAnswer"];
const EVERY = [10, 20, 30, 60];

export function Watch() {
  const id = Number(useParams().run);
  const open = useRun(id);
  if (!open.run || !open.state || !open.view) return <Waiting error={open.error} what="the run" />;
  return <OverThePiece key={id} open={open} />;
}

function OverThePiece({ open }: { open: OpenRun }) {
  const run = open.run!;
  const { zone } = useUnits();
  const { role } = useShop();
  const client = useQueryClient();
  const found = useQuery({
    queryKey: ["watches", run.id],
    queryFn: () => listWatches(run.id),
    refetchInterval: 5000,
  });
  const mine = Number(remembered("session", `cavatum-watch-${run.id}`) ?? 0);
  const watches = found.data?.watches ?? [];
  const own = watches.find((one) => one.id === mine && !one.ended_at);
  const [anew, setAnew] = useState(false);
  const isOver = !!open.state!.ended;
  const isCamera = !isOver && role !== "viewer" && (anew || !!own);
  const [video, camera] = useCamera(isCamera);
  const sounds = useSound();
  const awake = useAwake();
  const shown = own ?? watches[0];
  useEffect(() => {
    document.title = `Camera, ${run.script.piece} · Cavatum`;
  }, [run.script.piece]);
  const again = () => client.invalidateQueries({ queryKey: ["watches", run.id] });
  const sending = useSending(own, camera.ready ? camera.take : null);
  return (
    <main className="bench-mode min-h-dvh max-w-[1280px] mx-auto px-6 py-4 max-sm:px-4 max-sm:py-3">
      <header className="flex flex-wrap items-center justify-between gap-x-5 text-[17px]">
        <Link to={`/runs/${run.id}`} className="big-quiet px-0! no-underline! text-ink!">
          <span>
            <b className="font-semibold">‹ {run.script.piece}</b>
            <span className="sr-only">, back to the run</span>
          </span>
        </Link>
        <span className="text-slate">{awake ? "Screen stays awake" : "The screen may fall asleep"}</span>
      </header>
      <h1 className="text-[44px] leading-[1.05] max-sm:text-[32px] mt-1">
        {own && !anew ? "The camera watches" : "A camera over the piece"}
      </h1>
      {camera.problem ? (
        <p role="alert" className="text-[19px] font-semibold text-rust mt-2">
          {camera.problem}
        </p>
      ) : null}
      {isOver ? <p className="text-[18px] mt-2">The run is over; no camera is needed any more.</p> : null}
      <div
        className={`grid gap-8 mt-3 max-lg:block ${shown ? "grid-cols-[minmax(0,1fr)_400px]" : "grid-cols-1"}`}
      >
        <section aria-label="Camera">
          {isCamera ? (
            <Marking
              video={video}
              camera={camera}
              run={run.id}
              pieceId={run.piece_id ?? null}
              isWatching={!!own && !anew}
              onBegun={(watch) => {
                remember("session", `cavatum-watch-${run.id}`, String(watch.id));
                setAnew(false);
                void again();
              }}
            />
          ) : (
            <Before
              canBegin={!isOver && role !== "viewer"}
              onBegin={() => {
                wakeSound();
                setAnew(true);
              }}
            />
          )}
          {own && !anew ? (
            <div className="flex flex-wrap gap-4 mt-3">
              <button className="big-box px-5 text-[19px]!" onClick={() => setAnew(true)}>
                Mark the piece again
              </button>
              <button
                className="big-box px-5 text-[19px]!"
                onClick={() => void endWatch(own.id).then(again, again)}
              >
                End watching
              </button>
              {camera.lamp.can ? (
                <button
                  className="big-quiet"
                  aria-pressed={camera.lamp.on}
                  onClick={() => void camera.turnLamp(!camera.lamp.on)}
                >
                  {camera.lamp.on ? "Light off" : "Light on"}
                </button>
              ) : null}
            </div>
          ) : null}
        </section>
        <section aria-label="What it tells" className="max-lg:mt-5 text-[17px]">
          {shown ? <Standing watch={shown} now={open.now} zone={zone} sending={sending} /> : null}
          {!sounds && isCamera ? (
            <button className="big-quiet text-rust!" onClick={wakeSound}>
              Sound is off: tap to switch it on
            </button>
          ) : null}
          {shown ? <SeenList watch={shown} zone={zone} canSay={role !== "viewer"} /> : null}
        </section>
      </div>
      {shown ? (
        <div className="mt-6">
          <Lapse watch={shown} zone={zone} />
        </div>
      ) : null}
      <AlarmOverlay
        ringing={ringingOf(open)}
        onHeard={(all) => {
          for (const one of all) open.say({ kind: "heard", alarm: one.id });
        }}
      />
    </main>
  );
}

function Before({ canBegin, onBegin }: { canBegin: boolean; onBegin: () => void }) {
  return (
    <div className="text-[18px] grid gap-3 max-w-[62ch]">
      <p>
        Put a phone or camera on a stand over the piece, so that all four corners and a hand's breadth of
        bench are in the picture. Light it low from one side, and leave it as it is: the first minute is what
        everything later is compared with.
      </p>
      <p>
        It tells of bubbles that rise, a wet edge that creeps or draws back, resin beside the piece, things
        that landed or moved, craters, smoke, and a camera that was moved or covered. What is smaller than a
        millimetre it does not see. Colour that still flows is told too, and when it stands still; until then
        nothing else is told from there. It is a help and no guard: look yourself at every round.
      </p>
      <p className="text-slate">
        Pictures stay on the workshop's own computer: all of the last ten minutes, then one every two minutes,
        and all round what was seen.
      </p>
      {canBegin ? (
        <p>
          <button className="big-key" onClick={onBegin}>
            Use this device's camera
          </button>
        </p>
      ) : null}
    </div>
  );
}

function Standing({
  watch,
  now,
  zone,
  sending,
}: {
  watch: Watched;
  now: number;
  zone: string;
  sending: string;
}) {
  const last = watch.last_at ? now - +new Date(watch.last_at) : null;
  return (
    <div className="mb-3">
      <p className="text-[19px] font-semibold" role="status">
        {watch.ended_at
          ? `Ended ${moment(watch.ended_at, zone)}: ${watch.why}.`
          : watch.pictures < 5
            ? `Looking at the first pictures, ${watch.pictures} of 5.`
            : watch.seen.some((one) => !one.wrong_at)
              ? "Something was seen."
              : "All quiet."}
      </p>
      <p className="text-slate">
        {watch.told.device ? `${watch.told.device}, since ` : "Since "}
        {moment(watch.begun_at, zone)}: {watch.pictures} pictures
        {last !== null && !watch.ended_at
          ? `, the last ${last < 90_000 ? `${Math.max(Math.round(last / 1000), 0)} s` : since(last)} ago`
          : ""}
        . {watch.kept.length} are kept, {(watch.kept_bytes / 1e6).toFixed(1)} MB.
      </p>
      {watch.unfollowed?.length ? (
        <p className="mt-1">
          The wet edge is too faint on the {watch.unfollowed.join(", ")}{" "}
          {watch.unfollowed.length > 1 ? "sides" : "side"}: creeping and draining there is not told.
        </p>
      ) : null}
      {watch.problem && !watch.ended_at ? (
        <p role="alert" className="text-rust font-semibold mt-1">
          The newest picture was not looked at: {watch.problem}
        </p>
      ) : null}
      {sending ? (
        <p role="alert" className="text-rust font-semibold mt-1">
          {sending}
        </p>
      ) : null}
    </div>
  );
}

/** Sends a picture every few seconds; without a connection none is kept, and that is said. */
function useSending(watch: Watched | undefined, take: (() => Promise<Picture | null>) | null): string {
  const client = useQueryClient();
  const [problem, setProblem] = useState("");
  const newest = useLatest({ take, size: watch?.told.size_px });
  const id = watch?.id;
  const every = (watch?.told.every_s ?? 20) * 1000;
  const runId = watch?.run_id;
  useEffect(() => {
    if (!id) return;
    let over = false;
    let busy = false;
    const send = async () => {
      const { take: taken, size } = newest.current;
      if (busy || !taken) return;
      busy = true;
      try {
        const picture = await taken();
        if (!picture || over) return;
        if (size && (picture.width !== size[0] || picture.height !== size[1]))
          return setProblem("The phone was turned: turn it back, or mark the piece again.");
        await sendFrame(id, picture.blob);
        setProblem("");
      } catch (error) {
        setProblem(
          error instanceof Refused
            ? error.message
            : "No connection: pictures are not looked at until it is back.",
        );
        if (error instanceof Refused) void client.invalidateQueries({ queryKey: ["watches", runId] });
      } finally {
        busy = false;
      }
    };
    void send();
    const timer = window.setInterval(() => void send(), every);
    return () => {
      over = true;
      window.clearInterval(timer);
    };
  }, [id, every, runId, newest, client]);
  return problem;
}

function Marking({
  video,
  camera,
  run,
  pieceId,
  isWatching,
  onBegun,
}: {
  video: RefObject<HTMLVideoElement | null>;
  camera: ReturnType<typeof useCamera>[1];
  run: number;
  pieceId: number | null;
  isWatching: boolean;
  onBegun: (watch: Watched) => void;
}) {
  const face = useFace(pieceId);
  const { still } = face;
  const [every, setEvery] = useState(20);
  const [problem, setProblem] = useState("");
  useEffect(() => () => (still ? URL.revokeObjectURL(still.url) : undefined), [still]);
  const hold = async () => {
    const picture = await camera.take();
    setProblem("");
    if (picture) await face.show({ ...picture, url: URL.createObjectURL(picture.blob) });
  };
  const begin = async () => {
    setProblem("");
    try {
      const marked = await face.read();
      onBegun(
        await beginWatch(run, {
          ...marked,
          device: deviceName(navigator.userAgent),
          others_px: face.others(),
          size_px: [still!.width, still!.height],
          every_s: every,
        }),
      );
      face.clear();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <div className={still ? "grid grid-cols-[minmax(0,1fr)_320px] max-md:grid-cols-1 gap-6" : ""}>
      <video
        ref={video}
        muted
        playsInline
        className={`w-full max-h-[62dvh] bg-ink ${still ? "hidden" : ""}`}
        aria-label="The camera's picture"
      />
      {still ? <FaceBoard face={face} /> : null}
      {isWatching ? null : still ? (
        <form
          className="grid gap-3 text-[18px] content-start"
          onSubmit={(event) => {
            event.preventDefault();
            void begin();
          }}
        >
          <FaceFields face={face} />
          <label className="grid text-[15px] text-slate">
            a picture every
            <select
              className="box text-[19px]!"
              value={every}
              onChange={(event) => setEvery(Number(event.target.value))}
            >
              {EVERY.map((one) => (
                <option key={one} value={one}>
                  {one} s
                </option>
              ))}
            </select>
          </label>
          {problem ? (
            <p role="alert" className="text-rust font-semibold">
              {problem}
            </p>
          ) : null}
          <p className="flex flex-wrap gap-4">
            <button className="big-key">Watch from now on</button>
            <button type="button" className="big-quiet" onClick={face.clear}>
              Another picture
            </button>
          </p>
        </form>
      ) : (
        <p className="mt-3">
          <button className="big-key" disabled={!camera.ready} onClick={() => void hold()}>
            Take the picture to mark
          </button>
        </p>
      )}
    </div>
  );
}
