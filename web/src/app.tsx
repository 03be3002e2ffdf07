import { lazy, type ReactNode, Suspense } from "react";
import { Route, Routes, useLocation } from "react-router";
import { DrawingPatterns } from "./drawing/marks";
import { Tour } from "./manual/Tour";
import { BoardScreen } from "./screens/board/BoardScreen";
import { ProjectsScreen } from "./screens/projects/ProjectsScreen";
import { Failsafe } from "./shell/Failsafe";
import { Nowhere } from "./shell/Nowhere";
import { ProjectLayout } from "./shell/ProjectLayout";
import { Tips } from "./shell/Tips";

/** Screens that are loaded when they are opened, or before, when there is nothing else to do. */
const LATER = {
  About: () => import("./screens/about/AboutScreen"),
  Deliveries: () => import("./screens/deliveries/DeliveriesScreen"),
  Files: () => import("./screens/reading/FilesScreen"),
  Footage: () => import("./screens/footage/FootageScreen"),
  Framing: () => import("./screens/framing/FramingScreen"),
  Handoff: () => import("./screens/handoff/HandoffScreen"),
  Manual: () => import("./manual/ManualScreen"),
  Library: () => import("./screens/library/LibraryScreen"),
  BoardProof: () => import("./screens/proof/BoardProofScreen"),
  Proof: () => import("./screens/proof/ProofScreen"),
  SourceProof: () => import("./screens/proof/SourceProofScreen"),
  Chart: () => import("./screens/footage/ChartScreen"),
  Points: () => import("./screens/points/PointsScreen"),
  Paste: () => import("./screens/reading/PasteScreen"),
  Rule: () => import("./screens/rule/RuleScreen"),
  Sphere: () => import("./screens/sphere/SphereScreen"),
  Tables: () => import("./screens/tables/TablesScreen"),
  Ways: () => import("./screens/ways/WaysScreen"),
};
const AboutScreen = lazy(LATER.About);
const DeliveriesScreen = lazy(LATER.Deliveries);
const FilesScreen = lazy(LATER.Files);
const FootageScreen = lazy(LATER.Footage);
const FramingScreen = lazy(LATER.Framing);
const HandoffScreen = lazy(LATER.Handoff);
const ManualScreen = lazy(LATER.Manual);
const LibraryScreen = lazy(LATER.Library);
const BoardProofScreen = lazy(LATER.BoardProof);
const ProofScreen = lazy(LATER.Proof);
const SourceProofScreen = lazy(LATER.SourceProof);
const ChartScreen = lazy(LATER.Chart);
const PointsScreen = lazy(LATER.Points);
const PasteScreen = lazy(LATER.Paste);
const RuleScreen = lazy(LATER.Rule);
const SphereScreen = lazy(LATER.Sphere);
const TablesScreen = lazy(LATER.Tables);
const WaysScreen = lazy(LATER.Ways);

/** Loads the screens of the daily path, so that none of them is waited for. */
export function loadLater() {
  setTimeout(() => {
    for (const load of [LATER.Framing, LATER.Footage, LATER.Deliveries, LATER.Handoff]) void load();
  }, 1_000);
}

/** A screen by itself: while it is loaded, and when it fails, the rest stays usable. */
function Screen({ children }: { children: ReactNode }) {
  const { pathname } = useLocation();
  return (
    <Failsafe key={pathname}>
      <Suspense fallback={<main className="page" id="main" aria-busy="true" />}>{children}</Suspense>
    </Failsafe>
  );
}

const screen = (element: ReactNode) => <Screen>{element}</Screen>;

export function App() {
  return (
    <>
      <DrawingPatterns />
      <Tips />
      <Tour />
      <Routes>
        <Route index element={screen(<ProjectsScreen />)} />
        <Route path="about" element={screen(<AboutScreen />)} />
        <Route path="slide-rule" element={screen(<RuleScreen />)} />
        <Route path="manual" element={screen(<ManualScreen />)} />
        <Route path="tables" element={screen(<TablesScreen />)} />
        <Route path="projects/:project" element={<ProjectLayout />}>
          <Route index element={screen(<BoardScreen />)} />
          <Route path="footage" element={screen(<FootageScreen />)} />
          <Route path="footage/files" element={screen(<FilesScreen />)} />
          <Route path="footage/paste" element={screen(<PasteScreen />)} />
          <Route path="footage/:source/sphere" element={screen(<SphereScreen />)} />
          <Route path="footage/:source/proof" element={screen(<SourceProofScreen />)} />
          <Route path="footage/:source/chart" element={screen(<ChartScreen />)} />
          <Route path="deliveries/library" element={screen(<LibraryScreen />)} />
          <Route path="deliveries/ways" element={screen(<WaysScreen />)} />
          <Route path="deliveries" element={screen(<DeliveriesScreen />)} />
          <Route path="board/points" element={screen(<PointsScreen />)} />
          <Route path="board/proof" element={screen(<BoardProofScreen />)} />
          <Route path="board/:source/:frame/proof" element={screen(<ProofScreen />)} />
          <Route path="board" element={screen(<BoardScreen />)} />
          <Route path="handoff" element={screen(<HandoffScreen />)} />
          {/* Not anew for every conversion: the keys step through them. */}
          <Route
            path="board/:source/:frame"
            element={
              <Failsafe>
                <Suspense fallback={<main className="page" id="main" aria-busy="true" />}>
                  <FramingScreen />
                </Suspense>
              </Failsafe>
            }
          />
        </Route>
        <Route path="*" element={<Nowhere />} />
      </Routes>
    </>
  );
}
