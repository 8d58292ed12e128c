/** Instruments at this very browser: connected by the person, read as long as the page is open, what they say handed to
 *  the server, which has the only parser. A link that breaks is said, and tried again. */
import { useSyncExternalStore } from "react";
import { sayInstrument } from "../api/operations.generated";
import type { Schemas } from "../api/client";

export type Kind = Schemas["SaidBody"]["kind"];
export type Form = Schemas["SaidBody"]["form"];

export interface Link {
  id: number;
  kind: Kind;
  name: string;
  /** "" while it speaks; else what keeps it from that. */
  problem: string;
  isOn: boolean;
}

/** One way to an instrument: opens, tells what it hears, ends. */
export interface Wire {
  name: string;
  form: Form;
  /** Resolves when the link has ended by itself; rejects with the reason. */
  listen: (heard: (text: string, form?: Form) => void) => Promise<void>;
  write?: (text: string) => Promise<void>;
  close: () => Promise<void>;
}

const SEND_MS = 200;
const MOST_WAITING = 200;
const AGAIN_MS = 2000;
let links: Link[] = [];
let number = 0;
const wires = new Map<number, Wire>();
const told = new Set<() => void>();

function set(id: number, change: Partial<Link>): void {
  links = links.map((one) => (one.id === id ? { ...one, ...change } : one));
  for (const one of told) one();
}

export function useLinks(): Link[] {
  return useSyncExternalStore(
    (one) => {
      told.add(one);
      return () => told.delete(one);
    },
    () => links,
  );
}

/** Begins to hear an instrument that the person has chosen. */
export function connect(kind: Kind, wire: Wire): void {
  const id = ++number;
  links = [...links, { id, kind, name: wire.name, problem: "", isOn: true }];
  wires.set(id, wire);
  for (const one of told) one();
  void hear(id, kind, wire);
}

export async function disconnect(id: number): Promise<void> {
  const wire = wires.get(id);
  wires.delete(id);
  links = links.filter((one) => one.id !== id);
  for (const one of told) one();
  await wire?.close().catch(() => undefined);
}

async function hear(id: number, kind: Kind, wire: Wire): Promise<void> {
  while (wires.get(id) === wire) {
    const sender = new Sender(id, kind, wire);
    try {
      set(id, { isOn: true });
      await wire.listen((text, form) => sender.add(text, form ?? wire.form));
      if (wires.get(id) === wire) set(id, { isOn: false, problem: `The ${kind} has ended the link.` });
    } catch (error) {
      if (wires.get(id) === wire)
        set(id, { isOn: false, problem: `The link was lost (${(error as Error).message}). Go on by hand.` });
    }
    sender.end();
    await new Promise((later) => window.setTimeout(later, AGAIN_MS));
  }
}

/** Hands on what was heard a few times a second; while the server is away the newest are kept, older ones are of no use. */
class Sender {
  private waiting: { text: string; form: Form; at: number }[] = [];
  private busy = false;
  private readonly timer: number;
  private failures = 0;

  constructor(
    private readonly id: number,
    private readonly kind: Kind,
    private readonly wire: Wire,
  ) {
    this.timer = window.setInterval(() => void this.send(), SEND_MS);
  }

  add(text: string, form: Form): void {
    this.waiting = [...this.waiting, { text: text.slice(0, 400), form, at: performance.now() }].slice(
      -MOST_WAITING,
    );
  }

  end(): void {
    window.clearInterval(this.timer);
  }

  private async send(): Promise<void> {
    const first = this.waiting[0];
    if (this.busy || !first) return;
    this.busy = true;
    const now = performance.now();
    const these = this.waiting.filter((one) => one.form === first.form);
    this.waiting = this.waiting.filter((one) => one.form !== first.form);
    try {
      const answer = await sayInstrument({
        kind: this.kind,
        form: first.form,
        device: this.wire.name,
        stand_in: false,
        heard: these.map((one) => ({ text: one.text, ago_s: Math.min((now - one.at) / 1000, 60) })),
      });
      this.failures = answer.understood ? 0 : this.failures + these.length;
      set(this.id, {
        problem:
          this.failures > 20
            ? "Nothing of what it sends is a reading. Is it the right speed, and set to send by itself?"
            : "",
      });
      for (const command of answer.commands) await this.wire.write?.(`${command}\r\n`);
    } catch (error) {
      set(this.id, { problem: (error as Error).message });
    } finally {
      this.busy = false;
    }
  }
}

export const hex = (data: DataView): string =>
  Array.from({ length: data.byteLength }, (_, place) =>
    data.getUint8(place).toString(16).padStart(2, "0"),
  ).join("");

/** For tests, which begin with none. */
export async function disconnectAll(): Promise<void> {
  for (const one of links) await disconnect(one.id);
}
