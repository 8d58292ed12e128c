/** Pieces: find one, take one in from a file, or go and begin one. */
import { bringBackPiece, importPiece } from "../api/operations.generated";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { useEverythingAnew, usePieces } from "../api/queries";
import { text } from "../domain/format";
import { LittleHollow } from "../drawing/LittleHollow";
import { useUnits } from "../ui/session";
import { Empty, Waiting } from "../ui/states";
import { useSample } from "./first/useSample";

const PAGE = 50;

export function Pieces() {
  const [search, setSearch] = useState("");
  const [offset, setOffset] = useState(0);
  const [params, setParams] = useSearchParams();
  const [problem, setProblem] = useState("");
  const list = usePieces(search, offset);
  const field = useRef<HTMLInputElement>(null);
  const file = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const anew = useEverythingAnew();
  const sample = useSample();
  const finding = params.has("find");
  useEffect(() => {
    if (finding) field.current?.focus();
  }, [finding, list.isPending]);

  const takeIn = async (chosen: File | undefined) => {
    if (!chosen) return;
    try {
      if (chosen.size > 2 * 1024 * 1024)
        throw new Error(
          `${chosen.name} has ${(chosen.size / 1e6).toFixed(1)} MB; a piece file has at most 2 MB.`,
        );
      const stored = await importPiece(await chosen.text());
      await anew();
      navigate(`/pieces/${stored.id}/measure`);
    } catch (error) {
      setProblem(`${chosen.name}: ${(error as Error).message}`);
    }
    if (file.current) file.current.value = "";
  };
  const removed = params.get("removed");
  if (list.isPending || !list.data) return <Waiting error={list.error} what="the pieces" />;
  const { pieces, total } = list.data;
  return (
    <div
      className="px-7 py-5 max-w-[1080px] max-sm:px-3"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        void takeIn(event.dataTransfer.files[0]);
      }}
    >
      <div className="flex flex-wrap gap-4 items-center">
        <h1 className="text-[30px]">Pieces</h1>
        <input
          ref={field}
          type="search"
          aria-label="Search the pieces"
          placeholder="name or for whom"
          className="box max-w-64"
          value={search}
          onChange={(event) => {
            setSearch(event.target.value);
            setOffset(0);
          }}
        />
        <span className="ml-auto flex gap-4 items-center max-sm:ml-0">
          <button className="quiet" onClick={() => file.current?.click()}>
            Take in a piece file
          </button>
          <Link className="key inline-grid content-center" to="/new">
            New piece
          </Link>
        </span>
        <input
          ref={file}
          type="file"
          accept=".json,application/json"
          className="hidden"
          aria-label="Piece file"
          onChange={(event) => void takeIn(event.target.files?.[0])}
        />
      </div>
      {problem ? (
        <p role="alert" className="mt-3 text-rust font-medium">
          {problem}{" "}
          <button className="quiet" onClick={() => setProblem("")}>
            All right
          </button>
        </p>
      ) : null}
      {removed ? (
        <p role="status" className="mt-3">
          Removed.{" "}
          <button
            className="quiet"
            onClick={async () => {
              await bringBackPiece(Number(removed));
              await anew();
              setParams({});
            }}
          >
            Bring it back
          </button>
        </p>
      ) : null}
      {pieces.length === 0 ? (
        <Empty title={search ? "No piece by that name" : "No pieces yet"}>
          {search ? (
            <button className="quiet" onClick={() => setSearch("")}>
              Show all
            </button>
          ) : (
            <>
              Begin one, drop a piece file here, or{" "}
              <button className="quiet" onClick={() => void sample()}>
                look at a sample piece
              </button>
              .
            </>
          )}
        </Empty>
      ) : (
        <ul className="rule mt-4 border-t border-ink">
          {pieces.map((piece) => (
            <Row key={piece.id} piece={piece} />
          ))}
        </ul>
      )}
      {total > PAGE ? (
        <p className="mt-3 flex gap-4 items-center text-slate">
          {offset + 1} to {Math.min(offset + PAGE, total)} of {total}
          <button
            className="quiet"
            disabled={offset === 0}
            onClick={() => setOffset(Math.max(0, offset - PAGE))}
          >
            earlier
          </button>
          <button
            className="quiet"
            disabled={offset + PAGE >= total}
            onClick={() => setOffset(offset + PAGE)}
          >
            later
          </button>
        </p>
      ) : null}
    </div>
  );
}

function Row({ piece }: { piece: Schemas["ListedPiece"] }) {
  const { units } = useUnits();
  return (
    <li>
      <Link
        to={`/pieces/${piece.id}/measure`}
        className="grid grid-cols-[36px_minmax(0,2fr)_minmax(0,1fr)_90px_80px_70px_minmax(0,2fr)] gap-3 py-2 items-center max-sm:grid-cols-[36px_1fr_auto] max-sm:gap-y-0"
      >
        <LittleHollow filled={piece.filled ?? 0} tint={piece.tint ?? "#D39A3C"} />
        <span>
          <b className="font-semibold text-[15px]">{piece.name}</b>{" "}
          <span className="text-slate text-[13px]">{piece.for_whom}</span>
        </span>
        <span className="text-slate text-[13px] max-sm:hidden">{piece.kind}</span>
        <span className="text-right">{piece.net_m3 ? text(piece.net_m3, "volume", units) : "–"}</span>
        <span className="text-right max-sm:hidden">
          {piece.mass_kg ? text(piece.mass_kg, "mass", units) : ""}
        </span>
        <span className="text-right max-sm:hidden">
          {piece.pours ? `${piece.pours} ${piece.pours === 1 ? "pour" : "pours"}` : ""}
        </span>
        <span className="text-[13px] max-sm:col-span-3">
          {piece.says ? (
            <span className="text-rust font-medium">
              {piece.weight === "blocker" ? "Stops: " : "Care: "}
              {piece.says}
            </span>
          ) : null}
        </span>
      </Link>
    </li>
  );
}
