/** A room that the sheet does not want: it stops the job until the person says in words why it will do. */
import { useState } from "react";
import type { Schemas } from "../../api/client";

export function AcceptRoom({
  room,
  onAccept,
}: {
  room: Schemas["ToAccept"];
  onAccept: (words: string) => void;
}) {
  const [words, setWords] = useState("");
  return (
    <form
      className="mt-2 border-l-4 border-rust pl-2.5"
      onSubmit={(event) => {
        event.preventDefault();
        if (words.trim().length >= 3) onAccept(words.trim());
      }}
    >
      <label className="block text-[13px]">
        <span className="font-semibold">{room.called}: why will it do?</span> The record keeps your words.
        <input
          className="box"
          value={words}
          maxLength={300}
          placeholder="heated tent over the piece from Friday"
          onChange={(event) => setWords(event.target.value)}
        />
      </label>
      <button className="key mt-1.5" disabled={words.trim().length < 3}>
        Pour in it all the same
      </button>
    </form>
  );
}
