/** Steps read aloud and a few spoken answers, where the browser has a voice and ears. Never needed. */
import { useEffect, useState } from "react";
import { remember, remembered } from "../../api/memory";
import {
  findEars,
  findVoice,
  mayHaveEars,
  mayHaveVoice,
  speak,
  useListening,
  type Where,
} from "../../ui/speech";

const VOICE = "cavatum-reads-aloud";
const EARS = "cavatum-listens";

export function Spoken({
  says,
  onDone,
  onLater,
  howLong,
}: {
  /** Of the step of now; a change of it is read out. */
  says: string;
  /** null: this step is answered by a tap. */
  onDone: (() => void) | null;
  onLater: () => void;
  howLong: () => string;
}) {
  const [voice, setVoice] = useState<Where>("nowhere");
  const [ears, setEars] = useState<Where>("nowhere");
  const [reads, setReads] = useState(() => mayHaveVoice() && remembered("session", VOICE) === "yes");
  const [listens, setListens] = useState(() => mayHaveEars() && remembered("session", EARS) === "yes");
  const [asks, setAsks] = useState<"voice" | "ears" | null>(null);
  const [heard, setHeard] = useState("");
  const tell = (text: string) => {
    setHeard(text);
    if (reads) speak(text, voice);
  };
  useEffect(() => {
    if (reads) void findVoice().then(setVoice);
  }, [reads]);
  useEffect(() => {
    if (listens) void findEars().then(setEars);
  }, [listens]);
  useEffect(() => {
    if (reads && says) speak(says, voice);
  }, [reads, says, voice]);
  const problem = useListening(listens && ears !== "nowhere", ears, (word) => {
    if (word === "how long") return tell(howLong());
    if (word === "later") {
      onLater();
      return tell("Later, five minutes.");
    }
    if (!onDone) return tell("This one is answered by a tap.");
    onDone();
    return setHeard("Done.");
  });
  if (!mayHaveVoice() && !mayHaveEars()) return null;
  const turn = (what: "voice" | "ears", on: boolean) => {
    setAsks(null);
    setHeard("");
    remember("session", what === "voice" ? VOICE : EARS, on ? "yes" : "no");
    (what === "voice" ? setReads : setListens)(on);
  };
  const wish = async (what: "voice" | "ears") => {
    if (what === "voice" ? reads : listens) return turn(what, false);
    const where = await (what === "voice" ? findVoice() : findEars());
    (what === "voice" ? setVoice : setEars)(where);
    if (where === "nowhere") return setHeard("This browser has no English voice.");
    if (where === "elsewhere") setAsks(what);
    else turn(what, true);
  };
  return (
    <section
      aria-label="Voice"
      className="border-t border-line text-[17px] flex flex-wrap gap-x-4 items-center"
    >
      {mayHaveVoice() ? (
        <button className="big-quiet" aria-pressed={reads} onClick={() => void wish("voice")}>
          {reads ? "Reading steps aloud: stop" : "Read steps aloud"}
        </button>
      ) : null}
      {mayHaveEars() ? (
        <button className="big-quiet" aria-pressed={listens} onClick={() => void wish("ears")}>
          {listens ? "Listening: stop" : "Listen to me"}
        </button>
      ) : null}
      {listens ? <span>Say “done”, “later” or “how long”.</span> : null}
      {problem ? (
        <b role="alert" className="font-semibold text-rust">
          {problem}
        </b>
      ) : heard ? (
        <span role="status" className="font-semibold">
          {heard}
        </span>
      ) : null}
      {asks ? (
        <p role="alertdialog" aria-label="Sent outside" className="w-full py-2">
          {asks === "ears"
            ? "This browser sends what it hears to its maker to be understood. "
            : "This browser's voices are not on this device: the words of each step are sent to its maker. "}
          <button className="big-quiet" onClick={() => turn(asks, true)}>
            Allow that
          </button>
          <button className="big-quiet" onClick={() => setAsks(null)}>
            Do not
          </button>
        </p>
      ) : null}
    </section>
  );
}
