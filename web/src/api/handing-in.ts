/** A device that was put out hands in what it still holds: the owner accepts or refuses it. */
import { setToken, type Schemas } from "./client";
import { handIn, readPairing } from "./operations.generated";

/** What is said of it; null where this device is none that was put out (its account is logged out, say). */
export async function handedIn(what: Partial<Schemas["HandInBody"]>): Promise<string | null> {
  try {
    setToken((await readPairing()).csrf_token);
    const { taken, device } = await handIn({ runs: [], weighings: [], ...what });
    const entries = taken === 1 ? "1 entry that was" : `${taken} entries that were`;
    return (
      `${device || "This device"} is no longer let in. ${entries} still here went to the workshop's owner, ` +
      "who accepts or refuses them."
    );
  } catch {
    return null;
  }
}
