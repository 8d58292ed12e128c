/** The standard services of Bluetooth instruments, by Web Bluetooth: bytes, handed on as they are. */
import { hex, type Form, type Kind, type Wire } from "./ears";

interface Characteristic extends EventTarget {
  value?: DataView;
  startNotifications: () => Promise<Characteristic>;
  readValue: () => Promise<DataView>;
}
interface Service {
  getCharacteristic: (uuid: number) => Promise<Characteristic>;
}
interface Server {
  connect: () => Promise<Server>;
  disconnect: () => void;
  getPrimaryService: (uuid: number) => Promise<Service>;
}
interface Device extends EventTarget {
  name?: string;
  gatt?: Server;
}
interface Bluetooth {
  requestDevice: (options: { filters: { services: number[] }[] }) => Promise<Device>;
}

/** Service and its characteristics: Weight Scale, Health Thermometer, Environmental Sensing. Bluetooth SIG, assigned numbers. */
const SERVICES: Partial<Record<Kind, [number, [number, Form][]]>> = {
  scale: [0x181d, [[0x2a9d, "weight"]]],
  thermometer: [0x1809, [[0x2a1c, "temperature"]]],
  probe: [0x1809, [[0x2a1c, "temperature"]]],
  room: [
    0x181a,
    [
      [0x2a6e, "air-temperature"],
      [0x2a6f, "humidity"],
    ],
  ],
};
const ASKED_AGAIN_MS = 5000;

const bluetooth = (): Bluetooth | undefined => (navigator as { bluetooth?: Bluetooth }).bluetooth;
export const haveBluetooth = (): boolean => bluetooth() !== undefined;
export const speaksBluetooth = (kind: Kind): boolean => kind in SERVICES;

export async function chooseDevice(kind: Kind): Promise<Wire> {
  const [service, characteristics] = SERVICES[kind]!;
  const device = await bluetooth()!.requestDevice({ filters: [{ services: [service] }] });
  return {
    name: device.name || `a ${kind} by Bluetooth`,
    form: characteristics[0]![1],
    async listen(heard) {
      const server = await device.gatt!.connect();
      const timers: number[] = [];
      const gone = new Promise<void>((_, lost) =>
        device.addEventListener(
          "gattserverdisconnected",
          () => lost(new Error("out of reach or switched off")),
          { once: true },
        ),
      );
      try {
        const found = await server.getPrimaryService(service);
        for (const [uuid, form] of characteristics) {
          const one = await found.getCharacteristic(uuid);
          const tell = () => (one.value ? heard(hex(one.value), form) : undefined);
          one.addEventListener("characteristicvaluechanged", tell);
          try {
            await one.startNotifications();
          } catch {
            // it only answers when it is asked
            timers.push(
              window.setInterval(
                () =>
                  void one
                    .readValue()
                    .then((value) => heard(hex(value), form))
                    .catch(() => undefined),
                ASKED_AGAIN_MS,
              ),
            );
          }
        }
        await gone;
      } finally {
        for (const one of timers) window.clearInterval(one);
      }
    },
    async close() {
      device.gatt?.disconnect();
    },
  };
}
