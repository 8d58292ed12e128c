/** Every instrument with what it said last, wherever it is plugged in; and the keys to connect one to this browser. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { listInstruments } from "../api/operations.generated";
import type { Schemas } from "../api/client";
import { connect, disconnect, useLinks, type Kind, type Wire } from "../ears/ears";
import { chooseDevice, haveBluetooth, speaksBluetooth } from "../ears/bluetooth";
import { chooseScale, haveHid } from "../ears/hid";
import { BAUDS, choosePort, haveSerial } from "../ears/serial";
import { text } from "../domain/format";
import { useShop, useUnits } from "../ui/session";
import { Waiting } from "../ui/states";

type Instrument = Schemas["Instrument"];
const NAMES: Record<Kind, string> = {
  scale: "Scale",
  thermometer: "Infrared thermometer",
  probe: "Probe",
  room: "Room sensor",
  level: "Level",
};
const KINDS = Object.keys(NAMES) as Kind[];

export function Instruments() {
  const { units } = useUnits();
  const { role } = useShop();
  const found = useQuery({
    queryKey: ["instruments"],
    queryFn: () => listInstruments(),
    refetchInterval: 1000,
  });
  const links = useLinks();
  if (found.isPending || !found.data) return <Waiting error={found.error} what="the instruments" />;
  const said = new Map(found.data.instruments.map((one) => [one.kind, one]));
  return (
    <div className="px-7 py-5 max-sm:px-3 max-w-[980px]">
      <h1 className="text-[34px] leading-tight">Instruments</h1>
      <p className="mt-1 max-w-[660px] text-[15px]">
        One of each kind speaks at a time: at the server's own cable, or at a browser like this one. Whatever
        is connected, every value can be typed by hand as well.
      </p>
      <ul className="rule mt-4">
        {KINDS.map((kind) => {
          const one = said.get(kind);
          const link = links.find((other) => other.kind === kind);
          return (
            <li
              key={kind}
              className="py-3 grid grid-cols-[170px_1fr] max-sm:grid-cols-1 gap-x-5 items-baseline"
            >
              <b className="font-semibold text-[16px]">{NAMES[kind]}</b>
              <div>
                <p>
                  {one ? (
                    one.problem ? (
                      <span className="text-rust font-medium">{one.problem}</span>
                    ) : (
                      <>
                        <b className="font-semibold tabular-nums" data-figure={kind}>
                          {shown(one, units)}
                        </b>{" "}
                        <span className="text-slate">
                          {one.device}
                          {one.here ? ", at a browser" : ""}
                        </span>
                      </>
                    )
                  ) : (
                    <span className="text-slate">none has spoken yet</span>
                  )}
                </p>
                {link ? (
                  <p className="mt-1">
                    {link.isOn ? "Connected to this browser" : "Not connected just now"}: {link.name}.{" "}
                    <button className="quiet" onClick={() => void disconnect(link.id)}>
                      Disconnect
                    </button>
                    {link.problem ? (
                      <span role="alert" className="block text-rust font-medium">
                        {link.problem}
                      </span>
                    ) : null}
                  </p>
                ) : role === "viewer" ? null : (
                  <Connect kind={kind} />
                )}
              </div>
            </li>
          );
        })}
      </ul>
      <Cannot />
    </div>
  );
}

function shown(one: Instrument, units: "us" | "metric"): string {
  if (typeof one.mass_kg === "number") return text(one.mass_kg, "mass", units);
  if (typeof one.pitch_deg === "number")
    return `${one.pitch_deg.toFixed(2)}° along, ${(one.roll_deg ?? 0).toFixed(2)}° across`;
  if (typeof one.value !== "number") return "no reading";
  const air = typeof one.humidity === "number" ? `, air ${text(one.humidity, "fraction", units)}` : "";
  return `${text(one.value, "temperature", units)}${air}`;
}

function Connect({ kind }: { kind: Kind }) {
  const [baud, setBaud] = useState(BAUDS[0]!);
  const [problem, setProblem] = useState("");
  const attempt = async (choose: () => Promise<Wire>) => {
    setProblem("");
    try {
      connect(kind, await choose());
    } catch (error) {
      const { name, message } = error as Error;
      if (name !== "NotFoundError") setProblem(`It could not be connected (${message}).`);
    }
  };
  const ways = [haveSerial(), haveBluetooth() && speaksBluetooth(kind), haveHid() && kind === "scale"];
  if (!ways.some(Boolean)) return null;
  return (
    <p className="flex flex-wrap gap-x-5 gap-y-1 items-center mt-1">
      {ways[0] ? (
        <span className="flex gap-2 items-center">
          <button className="quiet" onClick={() => void attempt(() => choosePort(`${kind} by cable`, baud))}>
            Connect by cable
          </button>
          <select
            className="box w-[104px]!"
            aria-label={`Speed of the ${kind}`}
            value={baud}
            onChange={(event) => setBaud(Number(event.target.value))}
          >
            {BAUDS.map((one) => (
              <option key={one} value={one}>
                {one} Bd
              </option>
            ))}
          </select>
        </span>
      ) : null}
      {ways[1] ? (
        <button className="quiet" onClick={() => void attempt(() => chooseDevice(kind))}>
          Connect by Bluetooth
        </button>
      ) : null}
      {ways[2] ? (
        <button className="quiet" onClick={() => void attempt(chooseScale)}>
          Connect by USB
        </button>
      ) : null}
      {problem ? (
        <span role="alert" className="text-rust w-full">
          {problem}
        </span>
      ) : null}
    </p>
  );
}

const WHO_DOES = "Chrome and Edge do on computers and on Android; Firefox and browsers on an iPhone do not.";

/** Said, where a browser cannot: nobody looks for a key that is not there. */
function Cannot() {
  const missing = [
    haveSerial() ? "" : "a cable (Web Serial)",
    haveBluetooth() ? "" : "Bluetooth (Web Bluetooth)",
    haveHid() ? "" : "USB scales (Web HID)",
  ].filter(Boolean);
  if (!missing.length) return null;
  return (
    <p className="mt-4 text-[14px] text-slate max-w-[660px]">
      {window.isSecureContext
        ? `This browser reaches no instrument by ${missing.join(", nor by ")}. ${WHO_DOES}`
        : "Instruments need the protected address (https). Open Cavatum at that one."}{" "}
      Those at the server's own cable are read all the same, and every value can be typed.
    </p>
  );
}
