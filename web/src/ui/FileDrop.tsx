/** Takes a photo, a drawing, a mesh or stations by drop or by choosing; says at once what is wrong with it. */
import { keepFile } from "../api/operations.generated";
import { useId, useState } from "react";
import { Refused, type Schemas } from "../api/client";

export type Kept = Schemas["FileAnswer"];

interface Props {
  label: string;
  accept: string;
  onKept: (file: Kept) => Promise<void> | void;
}

export function FileDrop({ label, accept, onKept }: Props) {
  const id = useId();
  const [state, setState] = useState<"idle" | "over" | "busy">("idle");
  const [problem, setProblem] = useState("");
  const take = async (file: File | undefined) => {
    if (!file) return;
    setState("busy");
    setProblem("");
    try {
      await onKept(await keepFile(file, { name: file.name.slice(-120) }));
    } catch (error) {
      const first = error instanceof Refused ? error.problem.problems?.[0] : undefined;
      setProblem(first ? `${first.message} ${first.way_out}` : (error as Error).message);
    }
    setState("idle");
  };
  return (
    <div>
      <label
        htmlFor={id}
        className={`block border border-dashed px-3 py-2.5 text-[13px] cursor-pointer focus-within:outline-2 focus-within:outline-spruce ${state === "over" ? "border-spruce bg-spruce-soft" : "border-slate"}`}
        onDragOver={(event) => {
          event.preventDefault();
          setState("over");
        }}
        onDragLeave={() => setState("idle")}
        onDrop={(event) => {
          event.preventDefault();
          void take(event.dataTransfer.files[0]);
        }}
      >
        <span className="text-spruce font-semibold underline underline-offset-3">
          {state === "busy" ? "Reading …" : label}
        </span>
        <span className="text-slate"> or drop it here</span>
        <input
          id={id}
          type="file"
          accept={accept}
          className="sr-only"
          disabled={state === "busy"}
          onChange={(event) => {
            void take(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
      </label>
      {problem ? (
        <p role="alert" className="text-rust font-medium text-[12px] mt-1">
          {problem}
        </p>
      ) : null}
    </div>
  );
}

export const ACCEPT = {
  drawing: ".svg,.dxf",
  photo: "image/jpeg,image/png,image/webp",
  mesh: ".stl,.obj,.ply,.3mf",
  stations: ".csv,.tsv,.txt",
};

/** The first complaint of a refusal in one sentence. */
export function complaint(error: unknown): string {
  const first = error instanceof Refused ? error.problem.problems?.[0] : undefined;
  return first ? `${first.message} ${first.way_out}` : (error as Error).message;
}
