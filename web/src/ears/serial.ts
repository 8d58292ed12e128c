/** A port of this computer, by Web Serial: lines of text. */
import type { Wire } from "./ears";

interface Port {
  readable: ReadableStream<Uint8Array> | null;
  writable: WritableStream<Uint8Array> | null;
  open: (options: { baudRate: number }) => Promise<void>;
  close: () => Promise<void>;
}
interface Serial {
  requestPort: () => Promise<Port>;
}

const LONGEST = 400;
export const BAUDS = [9600, 4800, 2400, 1200, 19200, 115200];
const serial = (): Serial | undefined => (navigator as { serial?: Serial }).serial;
export const haveSerial = (): boolean => serial() !== undefined;

/** The person chooses the port in the browser's own window. */
export async function choosePort(name: string, baud: number): Promise<Wire> {
  const port = await serial()!.requestPort();
  let reader: ReadableStreamDefaultReader<Uint8Array> | null = null;
  return {
    name,
    form: "line",
    async listen(heard) {
      if (!port.readable) await port.open({ baudRate: baud });
      reader = port.readable!.getReader();
      const decoder = new TextDecoder("latin1");
      let rest = "";
      try {
        for (;;) {
          const { value, done } = await reader.read();
          if (done) return;
          const lines = (rest + decoder.decode(value, { stream: true })).split(/[\r\n]+/);
          rest = (lines.pop() ?? "").slice(-LONGEST);
          for (const line of lines) if (line.trim()) heard(line);
        }
      } finally {
        reader.releaseLock();
        await port.close().catch(() => undefined); // it is opened again
      }
    },
    async write(text) {
      const writer = port.writable?.getWriter();
      try {
        await writer?.write(new TextEncoder().encode(text));
      } finally {
        writer?.releaseLock();
      }
    },
    async close() {
      await reader?.cancel();
      await port.close();
    },
  };
}
