import { Route, Routes } from "react-router";
import { DrawingPatterns } from "./drawing/marks";
import { AboutScreen } from "./screens/about/AboutScreen";
import { BoardScreen } from "./screens/board/BoardScreen";
import { DeliveriesScreen } from "./screens/deliveries/DeliveriesScreen";
import { FootageScreen } from "./screens/footage/FootageScreen";
import { FramingScreen } from "./screens/framing/FramingScreen";
import { HandoffScreen } from "./screens/handoff/HandoffScreen";
import { LibraryScreen } from "./screens/library/LibraryScreen";
import { ProjectsScreen } from "./screens/projects/ProjectsScreen";
import { FilesScreen } from "./screens/reading/FilesScreen";
import { PasteScreen } from "./screens/reading/PasteScreen";
import { RuleScreen } from "./screens/rule/RuleScreen";
import { TablesScreen } from "./screens/tables/TablesScreen";
import { WaysScreen } from "./screens/ways/WaysScreen";
import { Nowhere } from "./shell/Nowhere";
import { ProjectLayout } from "./shell/ProjectLayout";

export function App() {
  return (
    <>
      <DrawingPatterns />
      <Routes>
        <Route index element={<ProjectsScreen />} />
        <Route path="about" element={<AboutScreen />} />
        <Route path="slide-rule" element={<RuleScreen />} />
        <Route path="tables" element={<TablesScreen />} />
        <Route path="projects/:project" element={<ProjectLayout />}>
          <Route index element={<BoardScreen />} />
          <Route path="footage" element={<FootageScreen />} />
          <Route path="footage/files" element={<FilesScreen />} />
          <Route path="footage/paste" element={<PasteScreen />} />
          <Route path="deliveries/library" element={<LibraryScreen />} />
          <Route path="deliveries/ways" element={<WaysScreen />} />
          <Route path="deliveries" element={<DeliveriesScreen />} />
          <Route path="board" element={<BoardScreen />} />
          <Route path="handoff" element={<HandoffScreen />} />
          <Route path="board/:source/:frame" element={<FramingScreen />} />
        </Route>
        <Route path="*" element={<Nowhere />} />
      </Routes>
    </>
  );
}
