/** How level it stands: two angles typed, read by this phone's sensor or by the workshop's level, and which
 *  corner to raise. */
import { readLevel } from "../../api/operations.generated";
import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import type { Piece, Plan } from "../../api/queries";
import { text } from "../../domain/format";
import { Fig } from "../../ui/Fig";
import { QuantityField, type Reading } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import type { Edits } from "../usePieceEdits";
import { useLatest } from "../../ui/useLatest";

type Level = NonNullable<Piece["level"]>;
interface Props {
  piece: Piece;
  plan: Plan;
  edits: Edits;
}

const degrees = (value: number): Reading => ({
  value: Number(value.toFixed(2)),
  as_typed: `${value.toFixed(2)} deg`,
  origin: "measured",
});
const START: Level = {
  pitch_deg: degrees(0),
  roll_deg: degrees(0),
  length_m: { value: 0.5, as_typed: "500 mm", origin: "typical" },
  width_m: { value: 0.3, as_typed: "300 mm", origin: "typical" },
};

export function LevelPanel({ piece, plan, edits }: Props) {
  const { units } = useUnits();
  const level = piece.level;
  const figures = plan.level;
  const [told, setTold] = useState("");
  const set = (what: string, part: Partial<Level>) =>
    edits.edit(what, (now) => ({ ...now, level: { ...(now.level ?? START), ...part } }));
  const takeAngles = (pitch: number, roll: number, from: string) => {
    setTold(`Read by ${from}: ${pitch.toFixed(2)}° along, ${roll.toFixed(2)}° across.`);
    void set("level read", { pitch_deg: degrees(pitch), roll_deg: degrees(roll) });
  };
  const askWorkshop = async () => {
    try {
      const found = await readLevel();
      takeAngles(found.pitch_deg, found.roll_deg, found.device);
    } catch (error) {
      setTold((error as Error).message);
    }
  };
  return (
    <section className="mt-5" aria-label="Level">
      <h2>How level does it stand?</h2>
      {level ? (
        <div className="grid grid-cols-2 gap-2.5 mt-1">
          <QuantityField
            label="along, far end high +"
            kind="angle"
            reading={level.pitch_deg}
            pointer="/level/pitch_deg"
            onCommit={(reading) => (reading ? set("level along", { pitch_deg: reading }) : undefined)}
          />
          <QuantityField
            label="across, right side high +"
            kind="angle"
            reading={level.roll_deg}
            pointer="/level/roll_deg"
            onCommit={(reading) => (reading ? set("level across", { roll_deg: reading }) : undefined)}
          />
          <QuantityField
            label="supports apart, along"
            kind="length"
            reading={level.length_m}
            pointer="/level/length_m"
            onCommit={(reading) => (reading ? set("supports", { length_m: reading }) : undefined)}
          />
          <QuantityField
            label="supports apart, across"
            kind="length"
            reading={level.width_m}
            pointer="/level/width_m"
            onCommit={(reading) => (reading ? set("supports", { width_m: reading }) : undefined)}
          />
        </div>
      ) : (
        <p className="text-[13px] text-slate mt-1">
          Free liquid runs to the low side. Lay a level or this phone on the piece, far end away from you.
        </p>
      )}
      <p className="flex flex-wrap gap-x-4 mt-1">
        <PhoneSensor
          onRead={(pitch, roll) =>
            takeAngles(pitch, roll, "this phone, to a tenth of a degree as browsers give it")
          }
          onTold={setTold}
        />
        <button className="quiet" onClick={() => void askWorkshop()}>
          Read the workshop's level
        </button>
        {level ? (
          <button
            className="quiet"
            onClick={() => void edits.edit("no level", (now) => ({ ...now, level: null }))}
          >
            Leave it out
          </button>
        ) : (
          <button className="quiet" onClick={() => void set("level", {})}>
            Type it
          </button>
        )}
      </p>
      {told ? (
        <p className="text-[13px]" aria-live="polite">
          {told}
        </p>
      ) : null}
      {figures ? (
        <>
          <Corners corners={figures.corners} units={units} />
          <p className="text-[13px]">
            Rises <Fig figure={figures.along} plan={plan} /> along,{" "}
            <Fig figure={figures.across} plan={plan} /> across.
            {figures.swing ? (
              <>
                {" "}
                The liquid would stand <Fig figure={figures.swing} plan={plan} /> higher at the low corner;
                freeboard left <Fig figure={figures.freeboard} plan={plan} />.
              </>
            ) : null}
            {figures.overflow ? (
              <b className="font-semibold text-rust">
                {" "}
                <Fig figure={figures.overflow} plan={plan} /> would run over.
              </b>
            ) : null}
          </p>
        </>
      ) : null}
    </section>
  );
}

function Corners({ corners, units }: { corners: Schemas["Corner"][]; units: "metric" | "us" }) {
  const places: Record<string, [number, number]> = {
    "far left": [16, 18],
    "far right": [224, 18],
    "near left": [16, 102],
    "near right": [224, 102],
  };
  return (
    <svg
      viewBox="0 0 240 112"
      className="w-full max-w-[300px] text-[12px] mt-2"
      role="img"
      aria-label={`To put under each corner: ${corners.map((one) => `${one.name} ${text(one.shim.value, "length", units)}`).join(", ")}`}
    >
      <rect x="16" y="24" width="208" height="62" fill="var(--form)" className="stroke-ink" />
      {corners.map((one) => {
        const [x, y] = places[one.name]!;
        const none = one.shim.value < 5e-5;
        return (
          <text
            key={one.name}
            x={x}
            y={y}
            textAnchor={x > 100 ? "end" : "start"}
            fontWeight={none ? 400 : 700}
          >
            {none ? "leave" : `raise ${text(one.shim.value, "length", units)}`}
          </text>
        );
      })}
      <text x="120" y="52" textAnchor="middle" className="fill-slate!">
        far end
      </text>
      <text x="120" y="70" textAnchor="middle" className="fill-slate!">
        near you
      </text>
    </svg>
  );
}

/** Steady for a second, then read: the mean of what the sensor sends. Phones give the sensor to secure
 *  pages only. */
function PhoneSensor({
  onRead,
  onTold,
}: {
  onRead: (pitch: number, roll: number) => void;
  onTold: (text: string) => void;
}) {
  const [on, setOn] = useState(false);
  const kept = useRef<[number, number][]>([]);
  const done = useLatest({ onRead, onTold });
  useEffect(() => {
    if (!on) return;
    kept.current = [];
    const hear = (event: DeviceOrientationEvent) => {
      if (event.beta !== null && event.gamma !== null) kept.current.push([event.beta, event.gamma]);
    };
    window.addEventListener("deviceorientation", hear);
    const timer = window.setTimeout(() => {
      const all = kept.current;
      if (all.length === 0)
        done.current.onTold(
          "This device sends no tilt. Phones give it to secure (https) pages only; type the angles, or read the workshop's level.",
        );
      else {
        const mean = (index: 0 | 1) => all.reduce((sum, one) => sum + one[index], 0) / all.length;
        done.current.onRead(mean(0), -mean(1));
      }
      setOn(false);
    }, 1200);
    return () => {
      window.removeEventListener("deviceorientation", hear);
      window.clearTimeout(timer);
    };
  }, [on, done]);
  const start = async () => {
    // A browser without such a sensor may not know the event at all.
    const known = window as { DeviceOrientationEvent?: { requestPermission?: () => Promise<string> } };
    const asked = known.DeviceOrientationEvent?.requestPermission;
    if (asked && (await asked().catch(() => "denied")) !== "granted")
      return onTold("The phone was not allowed to say its tilt.");
    setOn(true);
  };
  return (
    <button className="quiet" onClick={() => void start()}>
      {on ? "Hold still …" : "Read this phone's tilt"}
    </button>
  );
}
