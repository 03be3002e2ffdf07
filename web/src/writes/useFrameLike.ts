import { api, type EditResult, type Source, settled } from "../api/client";
import { useNotices } from "../notices/notices";
import { useEdit } from "./useEdit";

/** Adds a frame as a source's footage is: its upright picture in square pixels, with its rate, scan and range. */
export function useFrameLike(project: number) {
  const edit = useEdit(project);
  const { tellFailure } = useNotices();
  return async (source: Source): Promise<EditResult | undefined> => {
    try {
      const values = await settled(api.POST("/api/v1/shape/source/frame", { body: source.values }));
      return (await edit({ edit: "add_frames", values: [values] })).done;
    } catch (failure) {
      tellFailure("Not added", failure);
      return undefined;
    }
  };
}
