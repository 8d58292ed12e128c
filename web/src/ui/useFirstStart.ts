/** A workshop nobody has set up takes its units, its currency and its clock from the browser, once, and says so. */
import { useEffect, useRef, useState } from "react";
import { useChangeWorkshop } from "../api/changes";
import type { Session } from "../api/queries";

/** Currencies by region, where it is not the euro. ISO 4217 and ISO 3166-1. */
const CURRENCIES: Record<string, string> = {
  US: "USD",
  GB: "GBP",
  CA: "CAD",
  AU: "AUD",
  NZ: "NZD",
  CH: "CHF",
  SE: "SEK",
  NO: "NOK",
  DK: "DKK",
  PL: "PLN",
  CZ: "CZK",
  HU: "HUF",
  JP: "JPY",
  BR: "BRL",
  MX: "MXN",
  IN: "INR",
  ZA: "ZAR",
};
/** Where lengths are measured in inches by custom: CLDR's measurement system "US". */
const INCHES = new Set(["US", "LR", "MM"]);

export function localeSettings(language: string, zone: string) {
  const region = new Intl.Locale(language).maximize().region ?? "";
  return {
    units: INCHES.has(region) ? ("us" as const) : ("metric" as const),
    currency: CURRENCIES[region] ?? "EUR",
    zone,
  };
}

interface FirstStart {
  /** what was set, in words, until it is hushed; empty: nothing was */
  said: string;
  /** it is on its way: the line keeps its place already, so that nothing moves down under a finger when it comes */
  isSetting: boolean;
  hush: () => void;
}

export function useFirstStart(session: Session): FirstStart {
  const change = useChangeWorkshop(session.workshop);
  const isDone = useRef(false);
  const isWanted = session.is_untouched && (session.role === "owner" || session.role === "maker");
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const found = localeSettings(navigator.language, zone);
  const words = `${found.units === "us" ? "inches and pounds" : "millimetres and grams"}, ${found.currency}, ${zone} time`;
  const setting = `Set by your browser: ${words}.`;
  const [said, setSaid] = useState(isWanted ? setting : "");
  const [isSetting, setSetting] = useState(isWanted);
  useEffect(() => {
    if (!isWanted || isDone.current) return;
    isDone.current = true;
    void change(found)
      .then(
        () => setSaid(setting),
        () => setSaid(`Could not be set by your browser: ${words}. What stands above holds.`),
      )
      .then(() => setSetting(false));
  }, [isWanted, change]); // eslint-disable-line
  return { said, isSetting, hush: () => setSaid("") };
}
