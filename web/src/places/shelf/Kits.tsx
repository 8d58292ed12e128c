/** The sizes a system is sold in, with their prices: what the purchase answer chooses from. */
import { useState } from "react";
import { text } from "../../domain/format";
import { useUnits } from "../../ui/session";
import { readQuantity } from "../../ui/readQuantity";
import type { System } from "../../domain/system-fields";

type Kit = NonNullable<System["kits"]>[number];

export function Kits({
  system,
  change,
}: {
  system: System;
  change: (part: Partial<System>) => Promise<void>;
}) {
  const { units, currency } = useUnits();
  const [amount, setAmount] = useState("");
  const [price, setPrice] = useState("");
  const [problem, setProblem] = useState("");
  const kits = system.kits ?? [];
  const add = async () => {
    try {
      const money = Number(price.replace(",", "."));
      if (!price.trim() || !Number.isFinite(money) || money < 0)
        throw new Error("Type the price as a number, like 82.50.");
      const mass = await readQuantity(amount, "mass", units).catch(() => null);
      const found = mass && !mass.notes.length ? mass : await readQuantity(amount, "volume", units);
      await change({
        kits: [
          ...kits,
          {
            amount: found.value,
            by: found === mass ? "mass_kg" : "volume_m3",
            price_minor: Math.round(money * 100),
            origin: "sheet",
          },
        ],
      });
      setAmount("");
      setPrice("");
      setProblem("");
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <section className="mt-5" aria-label="Sold in">
      <h3 className="font-semibold border-b border-ink">Sold in</h3>
      <ul className="rule">
        {kits.map((kit: Kit, index) => (
          <li key={index} className="flex gap-4 items-baseline min-h-9">
            <span className="min-w-24">
              {text(kit.amount, kit.by === "mass_kg" ? "mass" : "volume", units)}
            </span>
            <span className="tabular-nums min-w-20">{text(kit.price_minor, "money", units, currency)}</span>
            {kit.origin === "typical" ? (
              <span className="text-rust text-[13px]">typical, made up</span>
            ) : null}
            <button
              className="quiet text-[13px] ml-auto"
              onClick={() => void change({ kits: kits.filter((_, at) => at !== index) })}
            >
              remove
            </button>
          </li>
        ))}
      </ul>
      <div className="flex gap-3 items-end mt-2 flex-wrap">
        <div className="w-44">
          <label className="label" htmlFor="kit-amount">
            A and B together
          </label>
          <input
            id="kit-amount"
            className="box"
            placeholder="4 kg, or 3 L"
            value={amount}
            onChange={(event) => setAmount(event.target.value)}
          />
        </div>
        <div className="w-32">
          <label className="label" htmlFor="kit-price">
            price, {currency}
          </label>
          <input
            id="kit-price"
            className="box"
            inputMode="decimal"
            value={price}
            onChange={(event) => setPrice(event.target.value)}
          />
        </div>
        <button className="key" disabled={!amount || !price} onClick={() => void add()}>
          Add the size
        </button>
      </div>
      {problem ? (
        <p role="alert" className="text-rust text-[13px]">
          {problem}
        </p>
      ) : null}
    </section>
  );
}
