/** SI values put into the workshop's units for reading. No rounding reaches a computation. */
export type Units = "metric" | "us";

const INCH = 0.0254;
const POUND = 0.45359237;
const FLUID_OUNCE = 29.5735295625e-6;

export interface Shown {
  number: string;
  unit: string;
}

function digits(value: number, places: number): string {
  return value.toFixed(places);
}

function length(value: number, units: Units): Shown {
  if (units === "us") return { number: digits(value / INCH, 2), unit: "in" };
  const mm = value * 1000;
  if (Math.abs(mm) < 2 && mm !== 0) return { number: digits(mm, 2).replace(/\.?0+$/, ""), unit: "mm" };
  if (mm >= 10_000) return { number: digits(value, 1), unit: "m" };
  return { number: mm >= 100 ? digits(mm, 0) : digits(mm, 1).replace(/\.0$/, ""), unit: "mm" };
}

function volume(value: number, units: Units): Shown {
  if (units === "us") {
    const ounces = value / FLUID_OUNCE;
    return { number: digits(ounces, ounces < 1 ? 3 : ounces < 10 ? 2 : 1), unit: "fl oz" };
  }
  return value >= 1e-3
    ? { number: digits(value * 1e3, 2), unit: "L" }
    : { number: digits(value * 1e6, value >= 1e-4 ? 0 : 1), unit: "mL" };
}

function mass(value: number, units: Units): Shown {
  if (units === "us")
    return value >= POUND
      ? { number: digits(value / POUND, 2), unit: "lb" }
      : { number: digits((value / POUND) * 16, 2), unit: "oz wt" };
  return value >= 1
    ? { number: digits(value, 2), unit: "kg" }
    : { number: digits(value * 1000, 1), unit: "g" };
}

export function duration(seconds: number): Shown {
  if (seconds < 60) return { number: digits(seconds, 0), unit: "s" };
  if (seconds < 5400) return { number: digits(seconds / 60, 0), unit: "min" };
  const hours = seconds / 3600;
  if (hours < 72) return { number: digits(hours, 1).replace(/\.0$/, ""), unit: "h" };
  return { number: digits(hours / 24, 1).replace(/\.0$/, ""), unit: "days" };
}

export function show(value: number, quantity: string, units: Units, currency = "EUR"): Shown {
  switch (quantity) {
    case "length":
      return length(value, units);
    case "volume":
      return volume(value, units);
    case "mass":
      return mass(value, units);
    case "duration":
      return duration(value);
    case "area":
      if (units === "us") return { number: digits(value / 0.09290304, 2), unit: "ft²" };
      return value >= 0.1
        ? { number: digits(value, 3), unit: "m²" }
        : { number: digits(value * 1e4, value < 0.01 ? 1 : 0).replace(/\.0$/, ""), unit: "cm²" };
    case "pressure":
      return { number: digits(value, 0), unit: "Pa" };
    case "force":
      return { number: digits(value, value < 10 ? 1 : 0), unit: "N" };
    case "speed":
      return units === "us"
        ? { number: digits((value / INCH) * 3600, 2), unit: "in/h" }
        : { number: digits(value * 3.6e6, 0), unit: "mm/h" };
    case "viscosity":
      return { number: String(Number(value.toPrecision(3))), unit: "Pa s" };
    case "heat":
      return { number: digits(value / 1000, 0), unit: "kJ/kg" };
    case "density":
      return { number: digits(value / 1000, 3), unit: "g/mL" };
    case "fraction":
      if (value > 0 && value < 0.0005) return { number: "< 0.1", unit: "%" };
      return { number: digits(value * 100, 1).replace(/\.0$/, ""), unit: "%" };
    case "ratio":
      return { number: `${Number(value.toFixed(4))} : 1`, unit: "" };
    case "areal_volume":
      return { number: digits(value * 1e6, 0), unit: "mL/m²" };
    case "temperature":
      return units === "us"
        ? { number: digits(value * 1.8 + 32, 0), unit: "°F" }
        : { number: digits(value, 1), unit: "°C" };
    case "temperature_difference":
      return { number: digits(units === "us" ? value * 1.8 : value, 1), unit: units === "us" ? "°F" : "°C" };
    case "money":
      return {
        number: new Intl.NumberFormat(undefined, { style: "currency", currency }).format(value / 100),
        unit: "",
      };
    case "angle":
      return { number: digits(value, 1), unit: "°" };
    default:
      return { number: String(Number(value.toPrecision(6))), unit: "" };
  }
}

export function text(value: number, quantity: string, units: Units, currency?: string): string {
  const { number, unit } = show(value, quantity, units, currency);
  return unit ? `${number} ${unit}` : number;
}

/** Degrees as they are written in a drawing: whole, with their sign. */
export function degrees(celsius: number, units: Units): string {
  return units === "us" ? `${Math.round(celsius * 1.8 + 32)} °F` : `${Math.round(celsius)} °C`;
}

/** A band beside its value, in the value's own unit: "± 0.09 L" beside litres. */
export function bandLike(band: number, value: number, units: Units): Shown {
  if (units === "us") return volume(band, units);
  return value >= 1e-3 ? { number: digits(band * 1e3, band < 1e-5 ? 3 : 2), unit: "L" } : volume(band, units);
}

/** A volume or an area in the unit that another of the same sentence has: two units in one line are read wrong. */
export function like(value: number, reference: number, quantity: "volume" | "area", units: Units): Shown {
  if (units === "us") return show(value, quantity, units);
  if (quantity === "volume") return bandLike(value, reference, units);
  return reference >= 0.1
    ? { number: digits(value, 3), unit: "m²" }
    : { number: digits(value * 1e4, reference < 0.01 ? 1 : 0), unit: "cm²" };
}

/** A film always both ways: the trade speaks of mm and of mil. */
export function film(value: number): string {
  const mil = (value / INCH) * 1000;
  const to = (number: number, places: number) => String(Number(number.toPrecision(places)));
  return `${to(value * 1000, value >= 1e-3 ? 3 : 2)} mm · ${to(mil, mil >= 100 ? 3 : 2)} mil`;
}

/** The weight as the scale shows it: always grams (to the step) beside ounces, where a mistake would cost a
 *  batch. */
export function onTheScale(kg: number): { grams: string; ounces: string } {
  return { grams: (kg * 1000).toFixed(1), ounces: `${((kg / POUND) * 16).toFixed(2)} oz wt` };
}

const PARTS: Intl.DateTimeFormatOptions = {
  weekday: "short",
  day: "numeric",
  hour: "2-digit",
  minute: "2-digit",
  hourCycle: "h23",
};

export function moment(iso: string, zone: string): string {
  return new Intl.DateTimeFormat("en-GB", { ...PARTS, timeZone: zone })
    .format(new Date(iso))
    .replace(",", "");
}

/** With month and year: for what lies further back than a week. */
export function date(iso: string, zone: string): string {
  return new Intl.DateTimeFormat("en-GB", {
    day: "numeric",
    month: "short",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
    hourCycle: "h23",
    timeZone: zone,
  })
    .format(new Date(iso))
    .replace(",", "");
}

/** A share as percent with one digit; what rounds to nothing has no sign. */
export function signedPercent(share: number): string {
  const shown = (share * 100).toFixed(1);
  return Number(shown) === 0 ? "0.0 %" : `${share > 0 ? "+" : "−"}${Math.abs(share * 100).toFixed(1)} %`;
}

export function dayAndTime(iso: string, zone: string): { day: string; time: string } {
  const at = new Date(iso);
  return {
    day: new Intl.DateTimeFormat("en-GB", {
      weekday: "short",
      day: "numeric",
      month: "short",
      timeZone: zone,
    }).format(at),
    time: new Intl.DateTimeFormat("en-GB", {
      hour: "2-digit",
      minute: "2-digit",
      hourCycle: "h23",
      timeZone: zone,
    }).format(at),
  };
}

/** What a bare number in this kind of field is read in. */
export function defaultUnit(kind: string, units: Units): string | null {
  const metric: Record<string, string> = {
    length: "mm",
    volume: "mL",
    mass: "g",
    temperature: "C",
    density: "g/mL",
    duration: "h",
    fraction: "%",
    areal_volume: "mL/m2",
    angle: "deg",
    area: "cm2",
    viscosity: "Pa s",
    heat: "kJ/kg",
  };
  const us: Record<string, string> = {
    ...metric,
    length: "in",
    mass: "lb",
    temperature: "F",
    volume: "fl oz",
    area: "sq in",
  };
  return (units === "us" ? us : metric)[kind] ?? null;
}
