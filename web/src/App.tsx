import { lazy, Suspense } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { Refused } from "./api/client";
import { useSession } from "./api/queries";
import { Boundary } from "./ui/Boundary";
import { Frame } from "./ui/Frame";
import { SessionContext } from "./ui/session";
import { Waiting } from "./ui/states";
import { useArrival } from "./ui/useArrival";

// Opened seldom or by themselves: the first page need not wait for them.
const Shelf = lazy(() => import("./places/Shelf").then((found) => ({ default: found.Shelf })));
const Patch = lazy(() => import("./places/shelf/SwatchPhoto").then((found) => ({ default: found.Patch })));
const BenchSheet = lazy(() => import("./stages/BenchSheet").then((found) => ({ default: found.BenchSheet })));
const ReadySheet = lazy(() =>
  import("./stages/survey/ReadySheet").then((found) => ({ default: found.ReadySheet })),
);
const Weigh = lazy(() => import("./stages/mix/weigh/Weigh").then((found) => ({ default: found.Weigh })));

const Workspace = lazy(() => import("./stages/Workspace").then((found) => ({ default: found.Workspace })));
// The first page is asked for at once, beside the session.
const bench = window.location.pathname === "/" ? import("./places/Bench") : null;
const Bench = lazy(() => (bench ?? import("./places/Bench")).then((found) => ({ default: found.Bench })));
const Pieces = lazy(() => import("./places/Pieces").then((found) => ({ default: found.Pieces })));
const FirstMinute = lazy(() =>
  import("./places/first/FirstMinute").then((found) => ({ default: found.FirstMinute })),
);
const Run = lazy(() => import("./stages/pour/Run").then((found) => ({ default: found.Run })));

const WorkshopClock = lazy(() =>
  import("./places/workshop/WorkshopClock").then((found) => ({ default: found.WorkshopClock })),
);

const Wall = lazy(() => import("./places/Wall").then((found) => ({ default: found.Wall })));

const Logbook = lazy(() => import("./places/logbook/Logbook").then((found) => ({ default: found.Logbook })));
const LearnedPage = lazy(() =>
  import("./places/logbook/LearnedPage").then((found) => ({ default: found.LearnedPage })),
);
const Trials = lazy(() => import("./places/logbook/Trials").then((found) => ({ default: found.Trials })));
const RunPage = lazy(() => import("./places/logbook/RunPage").then((found) => ({ default: found.RunPage })));
const Compare = lazy(() => import("./places/logbook/RunPage").then((found) => ({ default: found.Compare })));
const Mend = lazy(() => import("./places/mend/Mend").then((found) => ({ default: found.Mend })));

const Login = lazy(() => import("./places/Login").then((found) => ({ default: found.Login })));
const People = lazy(() => import("./places/People").then((found) => ({ default: found.People })));
const Account = lazy(() => import("./places/Account").then((found) => ({ default: found.Account })));
const Watch = lazy(() => import("./stages/pour/watch/Watch").then((found) => ({ default: found.Watch })));
const SideLight = lazy(() =>
  import("./stages/pour/watch/SideLight").then((found) => ({ default: found.SideLight })),
);
const Instruments = lazy(() =>
  import("./places/Instruments").then((found) => ({ default: found.Instruments })),
);
const Told = lazy(() => import("./places/told/Told").then((found) => ({ default: found.Told })));
const Phones = lazy(() => import("./places/Phones").then((found) => ({ default: found.Phones })));

export function App() {
  const { pathname } = useLocation();
  useArrival(pathname);
  const session = useSession();
  const isOut = session.error instanceof Refused && session.error.problem.status === 401;
  if (["/pair", "/join"].includes(window.location.pathname) || (isOut && !session.data))
    return (
      <Suspense fallback={null}>
        <Login />
      </Suspense>
    );
  if (session.isPending || !session.data) return <Waiting error={session.error} what="the workshop" />;
  return (
    <SessionContext value={session.data}>
      {isOut ? (
        <p role="alert" className="px-5 py-2 bg-raised border-b border-ink">
          This device is no longer let in. What you do is kept here.{" "}
          <button className="quiet" onClick={() => window.location.reload()}>
            Log in again
          </button>
        </p>
      ) : null}
      <Boundary what="The page" where={pathname}>
        <Routes>
          <Route
            path="/pieces/:id/weigh/:pour/:batch"
            element={
              <Suspense fallback={<Waiting error={null} what="the batch" />}>
                <Weigh />
              </Suspense>
            }
          />
          <Route
            path="/wall"
            element={
              <Suspense fallback={<Waiting error={null} what="the wall page" />}>
                <Wall />
              </Suspense>
            }
          />
          <Route
            path="/runs/:run"
            element={
              <Suspense fallback={<Waiting error={null} what="the run" />}>
                <Run />
              </Suspense>
            }
          />
          <Route
            path="/runs/:run/watch"
            element={
              <Suspense fallback={<Waiting error={null} what="the camera" />}>
                <Watch />
              </Suspense>
            }
          />
          <Route
            path="/runs/:run/side-light"
            element={
              <Suspense fallback={<Waiting error={null} what="the photo" />}>
                <SideLight />
              </Suspense>
            }
          />
          <Route path="*" element={<InFrame />} />
        </Routes>
      </Boundary>
    </SessionContext>
  );
}

function InFrame() {
  const { pathname } = useLocation();
  return (
    <Frame>
      <Boundary what="The page" where={pathname}>
        <Suspense fallback={<Waiting error={null} what="the page" />}>
          <Routes>
            <Route path="/" element={<Bench />} />
            <Route path="/new" element={<FirstMinute />} />
            <Route path="/pieces" element={<Pieces />} />
            <Route path="/pieces/:id" element={<Workspace />} />
            <Route path="/pieces/:id/ready" element={<ReadySheet />} />
            <Route path="/pieces/:id/sheet" element={<BenchSheet />} />
            <Route path="/pieces/:id/:stage" element={<Workspace />} />
            <Route path="/phones" element={<Phones />} />
            <Route path="/told" element={<Told />} />
            <Route path="/instruments" element={<Instruments />} />
            <Route path="/people" element={<People />} />
            <Route path="/account" element={<Account />} />
            <Route path="/workshop" element={<WorkshopClock />} />
            <Route path="/shelf" element={<Shelf />} />
            <Route path="/shelf/stock" element={<Shelf part="stock" />} />
            <Route path="/shelf/colours" element={<Shelf part="colours" />} />
            <Route path="/shelf/patch" element={<Patch />} />
            <Route path="/shelf/read" element={<Shelf part="read" />} />
            <Route path="/shelf/read/:sha" element={<Shelf part="read" />} />
            <Route path="/shelf/forms" element={<Shelf part="forms" />} />
            <Route path="/shelf/:systemId" element={<Shelf />} />
            <Route path="/logbook" element={<Logbook />} />
            <Route path="/logbook/learned" element={<LearnedPage />} />
            <Route path="/logbook/trials" element={<Trials />} />
            <Route path="/logbook/compare" element={<Compare />} />
            <Route path="/logbook/:run" element={<RunPage />} />
            <Route path="/mend" element={<Mend />} />
            <Route path="*" element={<Navigate to="/" replace />} />
          </Routes>
        </Suspense>
      </Boundary>
    </Frame>
  );
}
