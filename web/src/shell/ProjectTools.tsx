import { useEffect, useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { useNavigate } from "react-router";
import type { Board } from "../api/client";
import { useBoardMethod } from "../api/useBoardMethod";
import { type Action, FindBox } from "./FindBox";
import { HistorySheet } from "./HistorySheet";
import { METHODS } from "./methods";
import { useHistory } from "./useHistory";
import { useKeys } from "./useKeys";

/** Undo, redo, history and find: at hand on every screen of a project. */
export function ProjectTools({ board }: { board: Board }) {
  const { id } = board.project;
  const { head, undo, redo } = useHistory(id);
  const [open, setOpen] = useState<"history" | "find">();
  const navigate = useNavigate();
  const setMethod = useBoardMethod(board);
  const base = `/projects/${id}`;
  const goto = (title: string, path: string, detail = "opens the screen"): Action => ({
    title,
    detail,
    run: () => navigate(base + path),
  });
  const actions: Action[] = [
    { title: "Undo", detail: head?.undo?.label ?? "nothing to undo", run: undo },
    { title: "Redo", detail: head?.redo?.label ?? "nothing to do again", run: redo },
    { title: "History", detail: "every step, readable", run: () => setOpen("history") },
    goto("Footage", "/footage"),
    goto("Deliveries", "/deliveries"),
    goto("Board", "/board"),
    goto("Hand-off", "/handoff", "sheets, files and recipes in one archive"),
    goto("New source", "/footage?source=new", "described by hand"),
    goto("Read files", "/footage/files", "sources from what their headers say"),
    goto("Paste a list", "/footage/paste", "sources from a spreadsheet, CSV or TSV"),
    goto("New frame", "/deliveries?frame=new", "by its size"),
    goto("Ratio out of a container", "/deliveries?frame=new&by=ratio", "a new frame"),
    goto("Working frames", "/deliveries/ways", "through which frames pictures come; proxies"),
    {
      title: "Slide rule",
      detail: "one question, one answer, without a project",
      run: () => navigate("/slide-rule"),
    },
    goto("Frame library", "/deliveries/library", "published and house frames, active pictures"),
    ...METHODS.map(
      ({ id: method, name, does }): Action => ({
        title: `${name} on the whole board`,
        detail: `${does}; what has its own keeps it`,
        run: () => setMethod(method),
      }),
    ),
    {
      title: "Save the project as a file",
      detail: "JSON, to be taken in elsewhere",
      run: () => location.assign(`/api/v1/projects/${id}/export`),
    },
    { title: "Projects", detail: "all of them", run: () => navigate("/") },
  ];
  useKeys((key) => {
    if (key === "/") setOpen("find");
    else if (key === "u") undo();
    else if (key === "U") redo();
    else return false;
    return true;
  });
  // The keys of the platform for the same; inside a field they belong to what is typed there.
  const latest = useRef({ undo, redo });
  latest.current = { undo, redo };
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const at = event.target instanceof HTMLElement ? event.target : document.body;
      if (!(event.ctrlKey || event.metaKey) || at.matches("input, select, textarea")) return;
      const key = event.key.toLowerCase();
      if (key === "z" && !event.shiftKey) latest.current.undo();
      else if (key === "y" || (key === "z" && event.shiftKey)) latest.current.redo();
      else return;
      event.preventDefault();
    };
    document.addEventListener("keydown", listen);
    return () => document.removeEventListener("keydown", listen);
  }, []);
  return (
    <>
      <Button
        variant="plain"
        disabled={!head?.undo}
        onClick={undo}
        title={head?.undo ? `Undo: ${head.undo.label}` : "Nothing to undo"}
        aria-keyshortcuts="U Control+Z"
      >
        Undo <kbd>U</kbd>
      </Button>
      <Button
        variant="plain"
        disabled={!head?.redo}
        onClick={redo}
        title={head?.redo ? `Do again: ${head.redo.label}` : "Nothing to do again"}
        aria-keyshortcuts="Shift+U Control+Y"
      >
        Redo <kbd>⇧U</kbd>
      </Button>
      <Button variant="plain" onClick={() => setOpen("history")}>
        History
      </Button>
      <Button onClick={() => setOpen("find")} aria-keyshortcuts="/">
        Find <kbd>/</kbd>
      </Button>
      {open === "history" && <HistorySheet project={id} onHide={() => setOpen(undefined)} />}
      {open === "find" && <FindBox board={board} actions={actions} onHide={() => setOpen(undefined)} />}
    </>
  );
}
