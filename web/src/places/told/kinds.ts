/** Kinds of moments that a person can be told of, in the order of the work. */
import type { Schemas } from "../../api/client";

export type CallKind = NonNullable<Schemas["ListenerBody"]["kinds"]>[number];
export type Way = Schemas["SendingAnswer"]["way"];

export const KINDS: [CallKind, string][] = [
  ["starts", "planned starts"],
  ["pouring", "timers while pouring"],
  ["rounds", "flame rounds and looks"],
  ["tests", "tests before the next step"],
  ["finishing", "out of the form, sanding, finish"],
  ["seen", "what a camera saw"],
];
/** At the bench its own timers ring; elsewhere they would only disturb. */
export const AT_FIRST: CallKind[] = KINDS.map(([kind]) => kind).filter((kind) => kind !== "pouring");

export const WAYS: Record<Way, string> = {
  push: "message to a phone",
  mail: "mail",
  mqtt: "MQTT",
  webhook: "webhook",
};
