import { useState } from "react";
import { Button } from "react-bootstrap";
import { useNavigate } from "react-router";
import type { Board } from "../api/client";
import { togglePictures } from "../drawing/picture";
import { Key, keysOf } from "../keys/Key";
import { METHOD_LIST } from "../keys/methods";
import { useCommands } from "../keys/useCommands";
import { addressOf, PAGES } from "../manual/manual";
import { beginTour } from "../manual/Tour";
import { For, useMay } from "../people/may";
import { tip } from "../tip";
import { useBoardMethod } from "../writes/useBoardMethod";
import { useHistory } from "../writes/useHistory";
import { type Action, FindBox } from "./FindBox";
import { HistorySheet } from "./HistorySheet";

/** Undo, redo, history and find: at hand on every screen of a project. */
export function ProjectTools({ board }: { board: Board }) {
  const { id } = board.project;
  const { head, undo, redo } = useHistory(id);
  const plans = useMay("plan");
  const [open, setOpen] = useState<"history" | "find">();
  const navigate = useNavigate();
  const setMethod = useBoardMethod(board);
  const base = `/projects/${id}`;
  const goto = (title: string, path: string, detail = "opens the screen"): Action => ({
    title,
    detail,
    run: () => navigate(base + path),
  });
  const begin = (title: string, path: string, detail: string): Action => ({
    ...goto(title, path, detail),
    changes: true,
  });
  const actions: Action[] = [
    { title: "Undo", detail: head?.undo?.label ?? "nothing to undo", changes: true, run: undo },
    { title: "Redo", detail: head?.redo?.label ?? "nothing to redo", changes: true, run: redo },
    { title: "Pictures", detail: "shown in drawings, or not", run: togglePictures },
    { title: "History", detail: "every step of this project", run: () => setOpen("history") },
    goto("Footage", "/footage"),
    goto("Deliveries", "/deliveries"),
    goto("Board", "/board"),
    goto("Hand-off", "/handoff", "sheets, files and recipes in one archive"),
    begin("New source", "/footage?source=new", "entered by hand"),
    begin("Read files", "/footage/files", "sources from their headers"),
    begin("Paste a list", "/footage/paste", "sources from a spreadsheet, CSV or TSV"),
    begin("New frame", "/deliveries?frame=new", "by its size"),
    begin("Frame by ratio", "/deliveries?frame=new&by=ratio", "the largest frame of that ratio in another"),
    goto("Working frames", "/deliveries/ways", "intermediate frames and proxies"),
    {
      title: "Slide rule",
      detail: "one calculation at a time, without a project",
      run: () => navigate("/slide-rule"),
    },
    goto("Frame library", "/deliveries/library", "published and house frames, active pictures"),
    ...METHOD_LIST.map(
      ({ id: method, name, does }): Action => ({
        title: `${name} on the whole board`,
        detail: `${does}; conversions with their own method keep it`,
        changes: true,
        run: () => setMethod(method),
      }),
    ),
    {
      title: "Export project",
      detail: "a JSON file that another Ratiomet can open",
      run: () => location.assign(`/api/v1/projects/${id}/export`),
    },
    { title: "Projects", detail: "all projects", run: () => navigate("/") },
    {
      title: "Take the tour",
      detail: "five minutes through the screens",
      run: () => {
        beginTour(id);
        void navigate(`${base}/board`);
      },
    },
    { title: "Manual", detail: "every screen, finding and table explained", run: () => navigate("/manual") },
    ...PAGES.map(({ id: page, title, group, text }) => ({
      title,
      detail: `${group.toLowerCase()}, in the manual`,
      kind: "help" as const,
      text,
      run: () => navigate(addressOf(page)),
    })),
  ];
  useCommands("project", { find: () => setOpen("find"), undo, redo, pictures: togglePictures });
  return (
    <>
      <For may="plan">
        <Button
          variant="plain"
          disabled={!head?.undo && !head?.in_the_way}
          onClick={undo}
          {...tip(head?.undo ? `Undo: ${head.undo.label}` : "Nothing to undo")}
          {...keysOf("undo")}
        >
          Undo <Key of="undo" />
        </Button>
        <Button
          variant="plain"
          disabled={!head?.redo}
          onClick={redo}
          {...tip(head?.redo ? `Redo: ${head.redo.label}` : "Nothing to redo")}
          {...keysOf("redo")}
        >
          Redo <Key of="redo" />
        </Button>
      </For>
      <Button variant="plain" onClick={() => setOpen("history")}>
        History
      </Button>
      <Button onClick={() => setOpen("find")} {...keysOf("find")}>
        Find <Key of="find" />
      </Button>
      {open === "history" && <HistorySheet project={id} onHide={() => setOpen(undefined)} />}
      {open === "find" && (
        <FindBox
          board={board}
          actions={actions.filter(({ changes }) => plans || !changes)}
          onHide={() => setOpen(undefined)}
        />
      )}
    </>
  );
}
