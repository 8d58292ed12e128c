/** What every stage of an open piece is given. */
import type { Plan, Stored } from "../api/queries";
import type { Edits } from "./usePieceEdits";
import type { Preview } from "./usePreview";

export interface StageProps {
  stored: Stored;
  plan: Plan;
  edits: Edits;
  voidId: string;
  chooseVoid: (id: string) => void;
  preview: Preview;
}
