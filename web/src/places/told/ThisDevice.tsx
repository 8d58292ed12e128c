/** What this very device can do to be heard: sound, a screen that stays awake, messages while it is locked. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { readCalls } from "../../api/operations.generated";
import { remember, remembered } from "../../api/memory";
import { beep, useAwake, useSound, wakeSound } from "../../ui/alarms";
import { Waiting } from "../../ui/states";
import { useShop } from "../../ui/session";
import { deviceName, isInstalled, register, standing, unregister, type Standing } from "./push";

const SAYS: Record<Standing, string> = {
  cannot: "This browser takes no messages from pages. Mail reaches this device all the same.",
  insecure: "Messages need the protected address (https). Open Cavatum at that one.",
  "install first":
    "On an iPhone or iPad, first put this page on the home screen (Share, Add to Home Screen), then open it from there.",
  denied: "Messages are forbidden for this page. Allow them in the browser's settings for it.",
  off: "This device gets no messages yet.",
  on: "This device gets messages, also while its screen is locked.",
};

const SOUND_ON =
  "On. An open run rings at its moment, on most Android phones also behind a locked screen; " +
  "an iPhone silences a locked page, there only a message rings.";

export function ThisDevice() {
  const client = useQueryClient();
  const sounds = useSound();
  const awake = useAwake();
  const { role } = useShop();
  const calls = useQuery({ queryKey: ["calls"], queryFn: () => readCalls() });
  const state = useQuery({ queryKey: ["push"], queryFn: standing, staleTime: 0 });
  const people = calls.data?.people ?? [];
  const [whose, setWhose] = useState(() => Number(remembered("device", "cavatum-whose") ?? 0));
  const [says, setSays] = useState("");
  const chosen = people.some((one) => one.id === whose) ? whose : (people[0]?.id ?? 0);
  const doing = async (work: () => Promise<void>, done: string) => {
    setSays("");
    try {
      await work();
      setSays(done);
    } catch (error) {
      setSays((error as Error).message);
    }
    await client.invalidateQueries({ queryKey: ["push"] });
    await client.invalidateQueries({ queryKey: ["voice"] });
  };
  const take = () =>
    doing(async () => {
      await register(chosen, deviceName(navigator.userAgent));
      remember("device", "cavatum-whose", String(chosen));
    }, "Registered. Try it with Send one to try.");
  const now = state.data;
  if (calls.isPending || state.isPending) return <Waiting error={null} what="this device" />;
  return (
    <section aria-label="This device">
      <h2>This device</h2>
      <ul className="rule mt-1 text-[14px]">
        <li className="py-2">
          <b className="font-semibold">Messages.</b>{" "}
          {now ? SAYS[now] : "This browser does not say whether it takes messages."}{" "}
          {now === "off" && role !== "viewer" ? (
            people.length ? (
              <span className="flex flex-wrap gap-3 items-end mt-1.5">
                <label className="grid text-[13px] text-slate">
                  for
                  <select
                    className="box"
                    value={chosen}
                    onChange={(event) => setWhose(Number(event.target.value))}
                  >
                    {people.map((one) => (
                      <option key={one.id} value={one.id}>
                        {one.name}
                      </option>
                    ))}
                  </select>
                </label>
                <button className="key" onClick={() => void take()}>
                  Send messages here
                </button>
              </span>
            ) : (
              "Add a person first; then this device can be theirs."
            )
          ) : null}
          {now === "on" && role !== "viewer" ? (
            <button className="quiet" onClick={() => void doing(unregister, "No more messages here.")}>
              No more messages here
            </button>
          ) : null}
          {says ? (
            <span role="status" className="block mt-1 font-medium">
              {says}
            </span>
          ) : null}
        </li>
        <li className="py-2">
          <b className="font-semibold">Sound.</b> {sounds ? SOUND_ON : "Off until this page is tapped once."}{" "}
          <button
            className="quiet"
            onClick={() => {
              wakeSound();
              window.setTimeout(beep, 120);
            }}
          >
            Try it
          </button>
        </li>
        <li className="py-2">
          <b className="font-semibold">Screen.</b>{" "}
          {awake
            ? "Stays awake while the page is in front."
            : "May fall asleep: this browser cannot keep it awake here."}
        </li>
        <li className="py-2">
          <b className="font-semibold">{isInstalled() ? "Installed." : "Not installed."}</b>{" "}
          {isInstalled()
            ? "It opens the bench and the open runs without a connection."
            : "In the browser's menu, choose Install or Add to Home Screen: then it opens like a program, also without a connection."}
        </li>
      </ul>
    </section>
  );
}
