/** A USB scale that needs no driver, by Web HID: its data reports, handed on as they are. */
import { hex, type Wire } from "./ears";

interface Report extends Event {
  data: DataView;
}
interface Device extends EventTarget {
  productName: string;
  opened: boolean;
  open: () => Promise<void>;
  close: () => Promise<void>;
}
interface Hid extends EventTarget {
  requestDevice: (options: { filters: { usagePage: number }[] }) => Promise<Device[]>;
}

const SCALES = 0x8d; // HID usage page of weighing devices
const hid = (): Hid | undefined => (navigator as { hid?: Hid }).hid;
export const haveHid = (): boolean => hid() !== undefined;

export async function chooseScale(): Promise<Wire> {
  const [device] = await hid()!.requestDevice({ filters: [{ usagePage: SCALES }] });
  if (!device) throw new Error("No scale was chosen.");
  let over: () => void = () => undefined;
  return {
    name: device.productName || "a USB scale",
    form: "hid-scale",
    async listen(heard) {
      if (!device.opened) await device.open();
      const tell = (event: Event) => heard(hex((event as Report).data));
      device.addEventListener("inputreport", tell);
      try {
        await new Promise<void>((end, lost) => {
          over = end;
          hid()!.addEventListener("disconnect", (event) => {
            if ((event as Event & { device?: Device }).device === device)
              lost(new Error("it was pulled out"));
          });
        });
      } finally {
        device.removeEventListener("inputreport", tell);
        await device.close().catch(() => undefined);
      }
    },
    async close() {
      over();
      await device.close();
    },
  };
}
