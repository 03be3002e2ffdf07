import { useQueryClient } from "@tanstack/react-query";
import { api, type Source, settled } from "../../api/client";
import { refreshProject } from "../../api/queries";
import { failureText, useNotices } from "../../notices/notices";
import { useWrite } from "../../writes/useWrite";
import { type Look, NOT_TURNED } from "./look";

/** Keeps a look as a new source, which has the rate and signal of its sphere; gives its number. */
export function useAddView(project: number, sources: Source[], sphere: Source) {
  const client = useQueryClient();
  const write = useWrite(["project", project]);
  const { tell } = useNotices();
  return async ({ look, fov, raster }: Look): Promise<number | undefined> => {
    const taken = new Set(sources.map(({ values }) => values.name));
    const name = (number: number) => `${sphere.values.name} view ${number}`;
    let number = 1;
    while (taken.has(name(number))) number += 1;
    const body = {
      ...sphere.values,
      name: name(number),
      note: "",
      geometry: {
        raster,
        pixel_aspect: "1",
        squeeze: "1",
        active: { left: 0, top: 0, right: 0, bottom: 0 },
        rotation: 0 as const,
      },
      projection: "flat" as const,
      turn: NOT_TURNED,
      on_sphere: [],
      view: { sphere: sphere.id, fov, orientation: look },
      upright_known: true,
      subject: null,
      method: null,
      origin: null,
      still: null,
    };
    try {
      const added = await write(() =>
        settled(api.POST("/api/v1/projects/{project}/sources", { params: { path: { project } }, body })),
      );
      await refreshProject(client, project);
      return added.id;
    } catch (error) {
      tell(`No view was made: ${failureText(error)}`);
      return undefined;
    }
  };
}
