/** Push messages to this browser: what it can do, and registering it for a person. */
import { askPushKey, leaveVoice, registerBrowser } from "../../api/operations.generated";

export type Standing = "cannot" | "insecure" | "install first" | "denied" | "off" | "on";

/** iPhones and iPads give push messages to pages on the home screen alone. */
const isApple = () => /iPhone|iPad/.test(navigator.userAgent);
export const isInstalled = () =>
  window.matchMedia("(display-mode: standalone)").matches ||
  (navigator as { standalone?: boolean }).standalone === true;

export async function standing(): Promise<Standing> {
  if (!window.isSecureContext) return "insecure";
  if (isApple() && !isInstalled()) return "install first";
  if (!("serviceWorker" in navigator) || !("PushManager" in window) || !("Notification" in window))
    return "cannot";
  if (Notification.permission === "denied") return "denied";
  return (await subscription()) ? "on" : "off";
}

async function subscription(): Promise<PushSubscription | null> {
  const worker = await navigator.serviceWorker.getRegistration();
  return (await worker?.pushManager.getSubscription()) ?? null;
}

const bytes = (text: string) =>
  Uint8Array.from(atob(text.replaceAll("-", "+").replaceAll("_", "/")), (one) => one.charCodeAt(0));

/** Asks the person for leave, the browser's push service for an address, and hands that to the server. */
export async function register(listenerId: number, name: string): Promise<void> {
  if ((await Notification.requestPermission()) !== "granted")
    throw new Error("This browser was told not to show messages. Allow them in its settings for this page.");
  const { key } = await askPushKey();
  const worker = await navigator.serviceWorker.ready;
  const ask = () => worker.pushManager.subscribe({ userVisibleOnly: true, applicationServerKey: bytes(key) });
  let made: PushSubscription;
  try {
    made = await ask();
  } catch (error) {
    // registered with an earlier key of the server: taken back, and asked for again
    if ((error as Error).name !== "InvalidStateError")
      throw new Error(`The browser's push service gave no address (${(error as Error).message}).`);
    await (await subscription())?.unsubscribe();
    made = await ask();
  }
  const told = made.toJSON();
  await registerBrowser({
    listener_id: listenerId,
    name,
    endpoint: made.endpoint,
    p256dh: told.keys?.p256dh ?? "",
    auth: told.keys?.auth ?? "",
  });
}

export async function unregister(): Promise<void> {
  const made = await subscription();
  if (!made) return;
  await leaveVoice({ endpoint: made.endpoint });
  await made.unsubscribe();
}

/** In words of its owner: "Chrome on Android". */
export function deviceName(agent: string): string {
  const browser = /Firefox/.test(agent)
    ? "Firefox"
    : /Edg\//.test(agent)
      ? "Edge"
      : /Chrome/.test(agent)
        ? "Chrome"
        : /Safari/.test(agent)
          ? "Safari"
          : "A browser";
  const system = /Android/.test(agent)
    ? "Android"
    : /iPhone/.test(agent)
      ? "iPhone"
      : /iPad/.test(agent)
        ? "iPad"
        : /Mac/.test(agent)
          ? "Mac"
          : /Windows/.test(agent)
            ? "Windows"
            : "Linux";
  return `${browser} on ${system}`;
}
