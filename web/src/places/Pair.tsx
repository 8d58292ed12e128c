/** A phone enters the code that the shop's own screen shows; from the QR code it comes by itself. */
import { enterPairing, readPairing } from "../api/operations.generated";
import { useEffect, useRef, useState } from "react";
import { setToken } from "../api/client";

export function Pair() {
  const [code, setCode] = useState(window.location.hash.slice(1));
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const tried = useRef(false);
  const enter = async (typed: string) => {
    setBusy(true);
    setProblem("");
    try {
      const state = await readPairing();
      setToken(state.csrf_token);
      if (!state.paired) await enterPairing({ code: typed });
      window.location.replace("/");
    } catch (error) {
      setProblem((error as Error).message);
      setBusy(false);
    }
  };
  useEffect(() => {
    document.title = "Pair · Cavatum";
    if (tried.current || !window.location.hash) return;
    tried.current = true;
    const found = window.location.hash.slice(1);
    window.history.replaceState(null, "", "/pair"); // the code does not stay in the phone's history
    void enter(found);
  }, []);
  return (
    <main className="bench-mode max-w-[560px] mx-auto px-6 py-10">
      <h1 className="text-[34px]">Pair this device</h1>
      <p className="mt-2 text-[18px]">
        On the computer Cavatum runs on, open “Phones and the wall”, let a device in, and enter the code it
        shows. It holds for ten minutes.
      </p>
      <form
        className="mt-4 grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          void enter(code);
        }}
      >
        <label className="grid gap-1 text-[18px]">
          Code
          <input
            className="box text-[28px]! tracking-[0.12em] uppercase min-h-[64px]"
            autoComplete="off"
            autoCapitalize="characters"
            spellCheck={false}
            maxLength={20}
            value={code}
            onChange={(event) => setCode(event.target.value)}
          />
        </label>
        {problem ? (
          <p role="alert" className="text-rust text-[18px]">
            {problem}
          </p>
        ) : null}
        <button className="big-key" disabled={busy || code.trim().length < 4}>
          Pair
        </button>
      </form>
    </main>
  );
}
