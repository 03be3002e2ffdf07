import { keepPreviousData, useQueries } from "@tanstack/react-query";
import { useState } from "react";
import { Button, ButtonGroup } from "react-bootstrap";
import { api, type Frame, preview } from "../../api/client";
import { crossingAt } from "../../api/queries";
import type { components } from "../../api/schema";
import type { Box } from "../../drawing/box";
import { SeverityMark } from "../../drawing/marks";
import { percent, raster } from "../../drawing/numbers";
import { type FramePicture, onScreen, ScreenLayers, type Viewing } from "../../drawing/onScreen";
import { usePicture } from "../../drawing/picture";
import { here, keep, kept } from "../../kept";
import { useBoard } from "../../shell/ProjectLayout";

/** A screen on which people watch. */
interface Screen {
  name: string;
  size: [number, number];
}

/** Plain sizes that stand in for the players out there (common practice). */
const SHIPPED: Screen[] = [
  { name: "Wide television", size: [3840, 2160] },
  { name: "Cinema scope screen", size: [4096, 1716] },
  { name: "Laptop", size: [2560, 1600] },
  { name: "Phone sideways", size: [2340, 1080] },
  { name: "Phone upright", size: [1080, 2340] },
  { name: "Square tile", size: [1080, 1080] },
  { name: "Portrait tile", size: [1080, 1350] },
];

const KEPT = "ratiomet.screens";

const isScreens = (value: unknown): value is Screen[] =>
  Array.isArray(value) &&
  value.every(
    (each) =>
      typeof each?.name === "string" &&
      Array.isArray(each.size) &&
      each.size.length === 2 &&
      each.size.every((side: unknown) => Number.isInteger(side) && Number(side) > 0),
  );

/** A size as people write it, or nothing. */
function sizeOf(text: string): [number, number] | undefined {
  const found = /^\s*(\d{1,5})\s*[x×*]\s*(\d{1,5})\s*$/i.exec(text);
  const sides = found && ([Number(found[1]), Number(found[2])] as [number, number]);
  return sides?.every((side) => side >= 1 && side <= 65_536) ? sides : undefined;
}

type Delivery = components["schemas"]["DeliveryGeometry"];

const ask = (delivery: Delivery, screen: readonly number[], show: "fit" | "fill") => ({
  queryKey: ["viewing", delivery, screen, show],
  queryFn: () =>
    preview(
      api.POST("/api/v1/calc", {
        body: { kind: "viewing", delivery, screen: [...screen], show },
      }),
    ),
  placeholderData: keepPreviousData,
});

/** The delivered frame on the screens where people will watch it. */
export function ScreensSheet({ frame }: { frame: Frame }) {
  const picture = useFirstPicture(frame);
  const [screens, setScreens] = useState(() => kept(here, KEPT, SHIPPED, isScreens));
  const [show, setShow] = useState<"fit" | "fill">("fit");
  const { geometry } = frame.values;
  const area = frame.shape.picture_area;
  const masked = geometry.picture_ratio !== null && geometry.picture_ratio !== undefined;
  // The same picture without its baked bars.
  const bare: Delivery = { ...geometry, raster: [area.width, area.height], picture_ratio: null };
  const answers = useQueries({ queries: screens.map(({ size }) => ask(geometry, size, show)) });
  const without = useQueries({
    queries: screens.map(({ size }) => ({ ...ask(bare, size, show), enabled: masked })),
  });
  const change = (next: Screen[]) => {
    keep(here, KEPT, next);
    setScreens(next);
  };
  const viewing = (answer: (typeof answers)[number] | undefined) =>
    answer?.data?.sound && answer.data.value.kind === "viewing" ? answer.data.value : undefined;
  return (
    <div className="scroll on-screens">
      <div className="px-3 d-flex gap-3 align-items-center">
        <ButtonGroup size="sm" aria-label="What the player does">
          <Button active={show === "fit"} aria-pressed={show === "fit"} onClick={() => setShow("fit")}>
            Shows all
          </Button>
          <Button active={show === "fill"} aria-pressed={show === "fill"} onClick={() => setShow("fill")}>
            Fills the screen
          </Button>
        </ButtonGroup>
        <small className="quiet">grey: bars of the player; black: bars in the frame; hatched: cut off</small>
      </div>
      <ul>
        {screens.map((screen, at) => (
          <li key={`${screen.name} ${screen.size.join()}`}>
            <OneScreen
              screen={screen}
              picture={picture}
              viewing={viewing(answers[at])}
              bare={masked ? viewing(without[at]) : undefined}
            />
            <button
              type="button"
              className="copy"
              aria-label={`Remove ${screen.name}`}
              onClick={() => change(screens.filter((_, place) => place !== at))}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      <AddScreen onAdd={(screen) => change([...screens, screen])} onShipped={() => change(SHIPPED)} />
    </div>
  );
}

/** The picture of the first source that has one, as its conversion puts it into the frame. */
function useFirstPicture(frame: Frame): FramePicture | undefined {
  const board = useBoard();
  const row = board.sources.findIndex(({ picture }) => picture);
  const href = usePicture(board.sources[row], 320);
  const crossing = crossingAt(
    board,
    row,
    board.frames.findIndex(({ id }) => id === frame.id),
  );
  if (!href || !crossing) return undefined;
  const [x = 0, y = 0, width = 1, height = 1] = crossing.image;
  const [across = 1, down = 1] = frame.values.geometry.raster;
  return { href, image: { x: x / across, y: y / down, width: width / across, height: height / down } };
}

function OneScreen({
  screen,
  picture,
  viewing,
  bare,
}: {
  screen: Screen;
  picture: FramePicture | undefined;
  viewing?: Viewing | undefined;
  bare?: Viewing | undefined;
}) {
  const [width, height] = screen.size;
  const glass: Box = { x: 0, y: 0, width, height };
  const into: Box = { x: 2, y: 2, width: 146, height: 92 };
  return (
    <>
      <svg className="drawing" viewBox="0 0 150 96" aria-hidden="true">
        {viewing && <ScreenLayers {...onScreen(glass, viewing, into)} picture={picture} />}
      </svg>
      <div>
        <b>{screen.name}</b> <span className="num quiet">{raster(screen.size)}</span>
        {viewing && (
          <>
            <span className="d-block">
              picture on <b className="num">{percent(viewing.picture_share.value)} %</b> of the screen
              {viewing.cut.value > 0 && (
                <>
                  , <b className="num text-cut">{percent(viewing.cut.value)} %</b> of it lost
                </>
              )}
            </span>
            {viewing.double_boxed && (
              <span className="d-block text-cut">
                <SeverityMark severity="stop" /> bars on all four sides
              </span>
            )}
            {bare && bare.picture_share.value > viewing.picture_share.value && (
              <span className="d-block quiet">
                without bars in the frame <b className="num">{percent(bare.picture_share.value)} %</b>
              </span>
            )}
          </>
        )}
      </div>
    </>
  );
}

/** A screen of one's own. */
function AddScreen({ onAdd, onShipped }: { onAdd: (screen: Screen) => void; onShipped: () => void }) {
  const [name, setName] = useState("");
  const [size, setSize] = useState("");
  const [wrong, setWrong] = useState(false);
  return (
    <form
      className="px-3 py-2 d-flex flex-wrap gap-2 align-items-baseline"
      onSubmit={(event) => {
        event.preventDefault();
        const sides = sizeOf(size);
        setWrong(!sides);
        if (!sides) return;
        onAdd({ name: name.trim() || `Screen ${sides.join("x")}`, size: sides });
        setName("");
        setSize("");
      }}
    >
      <input
        className="bare-entry"
        aria-label="Name of a screen"
        placeholder="Another screen"
        maxLength={60}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <input
        className="bare-entry num"
        aria-label="Size of a screen"
        aria-invalid={wrong || undefined}
        placeholder="1920x1200"
        value={size}
        onChange={(event) => setSize(event.target.value)}
      />
      <Button size="sm" type="submit">
        Add
      </Button>
      <Button size="sm" onClick={onShipped}>
        Restore defaults
      </Button>
      {wrong && (
        <small className="text-cut" role="alert">
          Must be a size such as 1920x1200
        </small>
      )}
    </form>
  );
}
