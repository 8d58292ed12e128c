import { Navigate, Route, Routes } from "react-router";
import { useSession } from "./api/queries";
import { Bench } from "./places/Bench";
import { Pieces } from "./places/Pieces";
import { Patch } from "./places/shelf/SwatchPhoto";
import { Shelf } from "./places/Shelf";
import { MixSheet } from "./stages/mix/MixSheet";
import { Weigh } from "./stages/mix/weigh/Weigh";
import { ReadySheet } from "./stages/survey/ReadySheet";
import { Workspace } from "./stages/Workspace";
import { Frame } from "./ui/Frame";
import { SessionContext } from "./ui/session";
import { Waiting } from "./ui/states";

export function App() {
  const session = useSession();
  if (session.isPending || !session.data) return <Waiting error={session.error} what="the workshop" />;
  return (
    <SessionContext value={session.data}>
      <Routes>
        <Route path="/pieces/:id/weigh/:pour/:batch" element={<Weigh />} />
        <Route path="*" element={<InFrame />} />
      </Routes>
    </SessionContext>
  );
}

function InFrame() {
  return (
      <Frame>
        <Routes>
          <Route path="/" element={<Bench />} />
          <Route path="/pieces" element={<Pieces />} />
          <Route path="/pieces/:id" element={<Workspace />} />
          <Route path="/pieces/:id/ready" element={<ReadySheet />} />
          <Route path="/pieces/:id/mix-sheet" element={<MixSheet />} />
          <Route path="/pieces/:id/:stage" element={<Workspace />} />
          <Route path="/shelf" element={<Shelf />} />
          <Route path="/shelf/stock" element={<Shelf part="stock" />} />
          <Route path="/shelf/colours" element={<Shelf part="colours" />} />
          <Route path="/shelf/patch" element={<Patch />} />
          <Route path="/shelf/forms" element={<Shelf part="forms" />} />
          <Route path="/shelf/:systemId" element={<Shelf />} />
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </Frame>
  );
}
