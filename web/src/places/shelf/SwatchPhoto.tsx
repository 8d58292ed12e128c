/** A swatch's photo with the printed grey patch in it: two taps, and its colour is known under any even
 *  light, so that a repeat can be laid beside it. */
import { readSwatch } from "../../api/operations.generated";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { ACCEPT, complaint, FileDrop } from "../../ui/FileDrop";
import { Chip, type Recipe } from "./ColourShelf";

const HALF = 0.06; // half the side of what is read, as a share of the picture's width
type Spot = { x: number; y: number };

export function SwatchPhoto({ recipe, keep }: { recipe: Recipe; keep: (one: Recipe) => Promise<void> }) {
  const [photo, setPhoto] = useState(recipe.swatch?.photo ?? "");
  const [spots, setSpots] = useState<Spot[]>([]);
  const [ratio, setRatio] = useState(0); // width over height; 0 until the photo is there
  const [found, setFound] = useState<Schemas["SwatchAnswer"] | null>(null);
  const [problem, setProblem] = useState("");
  const read = async (patch: Spot, swatch: Spot) => {
    const field = ({ x, y }: Spot) => ({
      left: Math.max(x - HALF, 0),
      right: Math.min(x + HALF, 1),
      top: Math.max(y - HALF * ratio, 0),
      bottom: Math.min(y + HALF * ratio, 1),
    });
    try {
      setFound(
        await readSwatch({
          photo,
          patch: field(patch),
          swatch: field(swatch),
        }),
      );
      setProblem("");
    } catch (error) {
      setFound(null);
      setProblem(complaint(error));
    }
  };
  const tap = (spot: Spot) => {
    if (!ratio) return;
    const next = spots.length === 2 ? [spot] : [...spots, spot];
    setSpots(next);
    if (next.length === 2) void read(next[0]!, next[1]!);
  };
  const step = (at: number, axis: "x" | "y", value: number) => {
    const next = [0, 1].map((index) => ({
      ...(spots[index] ?? { x: 0.25 + 0.5 * index, y: 0.5 }),
      ...(index === at ? { [axis]: value } : {}),
    }));
    setSpots(next);
    void read(next[0]!, next[1]!);
  };
  return (
    <section className="mt-5" aria-label="Swatch photo">
      <h3 className="font-semibold border-b border-ink">Swatch photo</h3>
      <p className="text-[13px] text-slate mt-1">
        Lay the swatch beside the printed grey patch in one even light.{" "}
        <a className="quiet" href="/shelf/patch">
          Print the patch
        </a>
      </p>
      {recipe.swatch ? (
        <FileDrop
          label="A photo of swatch and patch"
          accept={ACCEPT.photo}
          onKept={(file) => {
            setPhoto(file.sha256);
            setRatio(0);
            setSpots([]);
            setFound(null);
          }}
        />
      ) : (
        <p className="text-[13px]">Say first how thick the swatch is, above.</p>
      )}
      {photo ? (
        <div className="mt-2 grid grid-cols-[minmax(0,360px)_1fr] gap-4 max-sm:grid-cols-1">
          <div className="relative self-start">
            {/* Only a pointer can show a place in a photo; the shade can be typed instead. */}
            {/* oxlint-disable-next-line jsx-a11y/click-events-have-key-events */}
            <img
              src={`/api/v1/files/${photo}/photo.jpg`}
              alt="Swatch and grey patch: tap the patch, then the swatch"
              className="w-full border border-ink cursor-crosshair"
              onLoad={(event) =>
                setRatio(event.currentTarget.naturalWidth / event.currentTarget.naturalHeight)
              }
              onClick={(event) => {
                const box = event.currentTarget.getBoundingClientRect();
                tap({ x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height });
              }}
            />
            <svg className="absolute inset-0 w-full h-full pointer-events-none" aria-hidden="true">
              {spots.map((spot, index) => (
                <g key={index}>
                  <rect
                    x={`${100 * (spot.x - HALF)}%`}
                    y={`${100 * (spot.y - HALF * ratio)}%`}
                    width={`${200 * HALF}%`}
                    height={`${200 * HALF * ratio}%`}
                    fill="none"
                    stroke="#fff"
                    strokeWidth="4"
                  />
                  <rect
                    x={`${100 * (spot.x - HALF)}%`}
                    y={`${100 * (spot.y - HALF * ratio)}%`}
                    width={`${200 * HALF}%`}
                    height={`${200 * HALF * ratio}%`}
                    fill="none"
                    stroke="#20262b"
                    strokeWidth="2"
                  />
                </g>
              ))}
            </svg>
          </div>
          <div className="text-[13px]">
            <p className="font-medium">
              {!ratio
                ? "Opening the photo …"
                : spots.length === 0
                  ? "Tap the grey patch."
                  : spots.length === 1
                    ? "Now tap the swatch."
                    : "Read."}
            </p>
            <details>
              <summary className="cursor-pointer text-slate">By keyboard</summary>
              {["patch", "swatch"].map((name, at) =>
                (["x", "y"] as const).map((axis) => (
                  <label key={name + axis} className="block">
                    {name}, {axis === "x" ? "across" : "down"}
                    <input
                      type="range"
                      min="0"
                      max="1"
                      step="0.01"
                      value={spots[at]?.[axis] ?? 0.5}
                      onChange={(event) => step(at, axis, Number(event.target.value))}
                    />
                  </label>
                )),
              )}
            </details>
            {problem ? (
              <p role="alert" className="text-rust font-medium">
                {problem}
              </p>
            ) : null}
            {found ? (
              <>
                <p className="flex gap-2 items-center mt-1">
                  <Chip tint={found.tint} /> L* {found.lab[0].toFixed(0)}, a* {found.lab[1].toFixed(0)}, b*{" "}
                  {found.lab[2].toFixed(0)}. The light was off by {found.patch_off.toFixed(0)}; the patch
                  takes that out.
                </p>
                {found.against
                  .filter((one) => one.recipe_id !== recipe.id)
                  .slice(0, 3)
                  .map((one) => (
                    <p key={one.recipe_id}>
                      {one.name}: {one.difference.toFixed(1)} apart, {one.seen ? "seen" : "not told apart"}.
                    </p>
                  ))}
                {recipe.swatch?.lab ? (
                  <p className="font-medium">
                    Against this recipe's own swatch:{" "}
                    {(found.against.find((one) => one.recipe_id === recipe.id)?.difference ?? 0).toFixed(1)}{" "}
                    apart.
                  </p>
                ) : null}
                <button
                  className="key mt-2"
                  onClick={() =>
                    recipe.swatch &&
                    void keep({
                      ...recipe,
                      tint: found.tint,
                      swatch: { ...recipe.swatch, photo, lab: found.lab, patch_off: found.patch_off },
                    })
                  }
                >
                  Keep it with the recipe
                </button>
              </>
            ) : null}
          </div>
        </div>
      ) : null}
    </section>
  );
}

/** The patch to print: middle grey, with the paper's white round it. */
export function Patch() {
  return (
    <article className="p-8 max-w-[640px] mx-auto">
      <p className="no-print flex gap-4 mb-4">
        <button className="key" onClick={() => window.print()}>
          Print
        </button>
        <a className="quiet self-center" href="/shelf/colours">
          Back to the colours
        </a>
      </p>
      <h1 className="text-[22px]">Grey patch for swatch photos</h1>
      <svg
        viewBox="0 0 480 240"
        width="480"
        role="img"
        aria-label="A middle grey field and a frame for the swatch"
        className="max-w-full h-auto print:[print-color-adjust:exact]"
      >
        <rect x="4" y="4" width="228" height="228" fill="#767676" />
        <rect
          x="248"
          y="4"
          width="228"
          height="228"
          fill="none"
          stroke="#20262b"
          strokeWidth="2"
          strokeDasharray="8 5"
        />
        <text x="362" y="122" textAnchor="middle" fontSize="20">
          lay the swatch here
        </text>
      </svg>
      <p className="mt-3 max-w-[52ch]">
        Print on plain white paper without colour management. Always use the same print: printers differ, and
        the patch is what makes two photos comparable. One even light, no flash, no shadow.
      </p>
    </article>
  );
}
