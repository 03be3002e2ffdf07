import type { Project } from "../../api/client";

/** What a project begins with: a board that fills its frames, for nobody comes for bars. */
export const NEW_PROJECT: Omit<Project["values"], "name"> = {
  method: "fill",
  tolerances: { enlarged: "1.1", rates: [], margin: "1/20" },
};
