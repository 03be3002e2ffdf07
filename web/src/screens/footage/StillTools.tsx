import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import { api, type Source, type SourceSet, settled } from "../../api/client";
import { refreshProject } from "../../api/queries";
import { raster } from "../../drawing/numbers";
import { MovieFrame } from "../../fields/MovieFrame";
import { failureText, useNotices } from "../../notices/notices";
import { Fixed, For, useMay } from "../../people/may";
import { tip } from "../../tip";
import { useEdit } from "../../writes/useEdit";
import { useWrite } from "../../writes/useWrite";
import { Borders } from "./Borders";
import { FromMedia } from "./FromMedia";

type Scene = NonNullable<NonNullable<SourceSet["still"]>["scene"]>;

const SCENES: Record<Scene, string> = {
  chart: "chart alone",
  furnace: "furnace",
  harbour: "harbour",
  reeds: "reeds",
  market: "market",
  ferry: "ferry",
  kiln: "kiln",
  pages: "pages",
  map: "map",
};

/** How the still goes with its source, where it does not as a whole. */
function fitOf(source: Source): string | undefined {
  const still = source.values.still?.raster;
  if (!still) return undefined;
  const [width = 1, height = 1] = source.values.geometry.raster;
  const [across = 1, down = 1] = still;
  if (across === width && down === height) return undefined;
  const part = width / across;
  return Number.isInteger(part) && down * part === height
    ? `1/${part} of the source's size`
    : `${raster(still)}, not the source's size nor a whole fraction of it: for the eye only`;
}

/** The picture that sources show: a still from a file, a test scene, or none. */
export function StillTools({ project, picked }: { project: number; picked: Source[] }) {
  const client = useQueryClient();
  const edit = useEdit(project);
  const write = useWrite(["project", project]);
  const { tell } = useNotices();
  const input = useRef<HTMLInputElement>(null);
  const [sending, setSending] = useState<string>();
  const [source] = picked;
  const single = picked.length === 1 ? source : undefined;
  const scenes = new Set(picked.map(({ values }) => values.still?.scene ?? (values.still ? "file" : "")));
  const [common] = scenes.size === 1 ? scenes : ["mixed"];
  const set = (still: NonNullable<SourceSet["still"]> | null) =>
    void edit({ edit: "set_sources", sources: picked.map(({ id }) => id), set: { still } });
  const send = async (file: File) => {
    if (!single) return;
    setSending(file.name);
    try {
      await write(async () => {
        await settled(
          api.POST("/api/v1/projects/{project}/sources/{source}/still", {
            params: { path: { project, source: single.id }, query: { file: file.name } },
            body: file as never,
            bodySerializer: (body) => body as unknown as Blob,
            headers: { "Content-Type": "application/octet-stream" },
          }),
        );
        await refreshProject(client, project);
      });
    } catch (error) {
      tell(`${file.name} is not shown: ${failureText(error)}`);
    }
    setSending(undefined);
  };
  const plans = useMay("plan");
  const [movie, setMovie] = useState<File>();
  const choose = (file: File) => (file.type.startsWith("video/") ? setMovie(file) : void send(file));
  const fit = single && fitOf(single);
  // A drawing does not say why it has no picture in it.
  const file = single?.values.still?.file && single.picture ? single : undefined;
  const { error: lost } = useQuery({
    queryKey: ["still", project, file?.id, file?.picture],
    queryFn: () =>
      settled(
        api.GET("/api/v1/projects/{project}/sources/{source}/picture", {
          params: {
            path: { project, source: file?.id ?? 0 },
            query: { side: 320, key: file?.picture ?? "" },
          },
          parseAs: "blob",
        }),
      ),
    enabled: file !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const isView = picked.some(({ values }) => values.view);
  // A still may be dropped anywhere on the page of one source; what is no picture is left to others.
  const drop = useRef(choose);
  drop.current = choose;
  const takes = plans && single !== undefined && !isView;
  useEffect(() => {
    if (!takes) return;
    const isFile = (event: DragEvent) =>
      [...(event.dataTransfer?.items ?? [])].some(({ kind }) => kind === "file");
    const over = (event: DragEvent) => isFile(event) && event.preventDefault();
    const dropped = (event: DragEvent) => {
      const [file] = event.dataTransfer?.files ?? [];
      if (!file || event.defaultPrevented) return;
      event.preventDefault();
      drop.current(file);
    };
    window.addEventListener("dragover", over);
    window.addEventListener("drop", dropped);
    return () => {
      window.removeEventListener("dragover", over);
      window.removeEventListener("drop", dropped);
    };
  }, [takes]);
  if (isView)
    return (
      <fieldset className="tools" aria-label="Picture">
        <h3>Picture</h3>
        <p className="quiet small mb-1">A view is seen out of the picture of its sphere.</p>
      </fieldset>
    );
  return (
    <fieldset className="tools" aria-label="Picture">
      <h3>Picture</h3>
      <div className="tool-row">
        {single && (
          <>
            <For may="plan">
              <Button size="sm" disabled={sending !== undefined} onClick={() => input.current?.click()}>
                Choose a still
              </Button>
            </For>
            <input
              ref={input}
              type="file"
              hidden
              aria-label="Choose a still"
              accept=".png,.jpg,.jpeg,.tif,.tiff,.webp,.exr,.dpx,video/*"
              onChange={(event) => {
                const [file] = event.target.files ?? [];
                event.target.value = "";
                if (file) choose(file);
              }}
            />
          </>
        )}
        <Fixed may="plan">
          <Form.Select
            size="sm"
            aria-label="test scene"
            value={common === "file" || common === "mixed" ? common : (common ?? "")}
            onChange={({ target }) => set(target.value ? { scene: target.value as Scene, file: "" } : null)}
          >
            {common === "file" && <option value="file">still from a file</option>}
            {common === "mixed" && <option value="mixed">several</option>}
            <option value="">no picture</option>
            {Object.entries(SCENES).map(([scene, name]) => (
              <option key={scene} value={scene}>
                test scene: {name}
              </option>
            ))}
          </Form.Select>
        </Fixed>
        {single && (
          <Link
            className="btn btn-sm"
            to={`/projects/${project}/footage/${single.id}/chart`}
            {...tip("What every frame takes of it, as large as the screen: to be held before the camera")}
          >
            Camera chart
          </Link>
        )}
        {single?.picture && (
          <Link
            className="btn btn-sm"
            to={`/projects/${project}/footage/${single.id}/proof`}
            {...tip("Carried out by itself, at its own size or another: looked at, compared, measured")}
          >
            Proof
          </Link>
        )}
      </div>
      {single && (
        <p className="quiet small mb-1" role="status">
          {sending
            ? `Reading ${sending} …`
            : lost
              ? failureText(lost)
              : single.values.still?.file
                ? `${single.values.still.file}${fit ? `: ${fit}` : ""}`
                : plans &&
                  "PNG, JPEG, TIFF, WebP, OpenEXR or DPX, as stored; or a movie, of which you choose a frame. Drop it anywhere."}
        </p>
      )}
      {single && movie && (
        <MovieFrame
          movie={movie}
          source={single}
          onClose={() => setMovie(undefined)}
          onTake={(still) => {
            setMovie(undefined);
            void send(still);
          }}
        />
      )}
      <For may="plan">
        {single && <FromMedia key={single.id} project={project} source={single} />}
        <Borders project={project} picked={picked} />
      </For>
    </fieldset>
  );
}
