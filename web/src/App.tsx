import { Navigate, Route, Routes } from "react-router";
import { useSession } from "./api/queries";
import { Bench } from "./places/Bench";
import { Pieces } from "./places/Pieces";
import { Shelf } from "./places/Shelf";
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
      <Frame>
        <Routes>
          <Route path="/" element={<Bench />} />
          <Route path="/pieces" element={<Pieces />} />
          <Route path="/pieces/:id" element={<Workspace />} />
          <Route path="/pieces/:id/ready" element={<ReadySheet />} />
          <Route path="/pieces/:id/:stage" element={<Workspace />} />
          <Route path="/shelf" element={<Shelf />} />
          <Route path="/shelf/:systemId" element={<Shelf />} />
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </Frame>
    </SessionContext>
  );
}
