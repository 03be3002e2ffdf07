import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useMemo, useRef, useState } from "react";
import { Form, Modal } from "react-bootstrap";
import { useNavigate } from "react-router";
import type { Board } from "../api/client";
import { askQuery } from "../api/queries";
import { raster } from "../drawing/numbers";

/** One thing that can be found. */
interface Found {
  key: string;
  kind: "help" | "source" | "frame" | "conversion" | "command" | "answer";
  title: string;
  detail: string;
  run: () => void;
}

export interface Action {
  title: string;
  detail: string;
  /** A page of the manual is found by what it says, and only when something is looked for. */
  kind?: "help" | undefined;
  /** Whether it changes the project, which not everybody may. */
  changes?: true | undefined;
  text?: string | undefined;
  run: () => void;
}

const MOST = 60;

/** Whether every word stands somewhere in a text. */
function holds(text: string, words: readonly string[]): boolean {
  return words.every((word) => text.includes(word));
}

/** What matches the words: what to do, sources, frames, conversions; those need a word for each side. */
export function find(
  board: Board,
  actions: readonly Action[],
  entry: string,
  open: (path: string) => void,
): Found[] {
  const words = entry.toLowerCase().split(/\s+/).filter(Boolean);
  const base = `/projects/${board.project.id}`;
  const sources = board.sources.map((source) => ({
    source,
    text: `${source.values.name} ${source.values.note ?? ""} ${source.alike} ${raster(source.values.geometry.raster)}`.toLowerCase(),
  }));
  const frames = board.frames.map((frame) => ({
    frame,
    text: `${frame.values.name} ${frame.values.note ?? ""} ${raster(frame.values.geometry.raster)}`.toLowerCase(),
  }));
  const found: Found[] = [];
  for (const { title, detail, kind, run } of actions) {
    if (!kind && holds(`${title} ${detail}`.toLowerCase(), words))
      found.push({ key: `a ${title}`, kind: "command", title, detail, run });
  }
  for (const { source, text } of sources) {
    if (words.length > 0 && holds(text, words))
      found.push({
        key: `s${source.id}`,
        kind: "source",
        title: source.values.name,
        detail: source.alike,
        run: () => open(`${base}/footage?source=${source.id}`),
      });
  }
  for (const { frame, text } of frames) {
    if (words.length > 0 && holds(text, words))
      found.push({
        key: `f${frame.id}`,
        kind: "frame",
        title: frame.values.name,
        detail: raster(frame.values.geometry.raster),
        run: () => open(`${base}/deliveries?frame=${frame.id}`),
      });
  }
  if (words.length > 1) {
    for (const { source, text } of sources) {
      const left = words.filter((word) => !text.includes(word));
      if (left.length === 0 || left.length === words.length) continue;
      for (const { frame, text: frameText } of frames) {
        if (!holds(frameText, left)) continue;
        found.push({
          key: `c${source.id}-${frame.id}`,
          kind: "conversion",
          title: `${source.values.name} into ${frame.values.name}`,
          detail: "opens the framing",
          run: () => open(`${base}/board/${source.id}/${frame.id}`),
        });
        if (found.length > MOST * 4) break;
      }
    }
  }
  for (const { title, detail, kind, text, run } of actions) {
    if (kind && words.length > 0 && holds(`${title} ${text}`.toLowerCase(), words))
      found.push({ key: `h ${title} ${detail}`, kind, title, detail, run });
  }
  return found.slice(0, MOST);
}

/** What a question in plain words comes to, where one was asked: the slide rule lays it out. */
function useAnswer(entry: string, open: (path: string) => void): Found | undefined {
  // A question has a number or names two things; a single word is a name.
  const asks = /\d|\s/.test(entry);
  const { data, isPlaceholderData } = useQuery({ ...askQuery(entry), enabled: asks });
  const answer = asks && !isPlaceholderData ? data?.answer : undefined;
  return useMemo(() => {
    if (!answer) return undefined;
    return {
      key: "answer",
      kind: "answer",
      title: answer.understood,
      detail: answer.sentence,
      run: async () => {
        // The slide rule is loaded when it is opened.
        const { addressFor } = await import("../calculations");
        const address = answer.request && addressFor(answer.request as Record<string, unknown>);
        // What it has no page for is answered above it all the same.
        open(`/slide-rule?${address ?? new URLSearchParams({ q: entry })}`);
      },
    };
  }, [answer, open, entry]);
}

/** One box for sources, frames, conversions and actions. */
export function FindBox({
  board,
  actions,
  onHide,
}: {
  board: Board;
  actions: readonly Action[];
  onHide: () => void;
}) {
  const navigate = useNavigate();
  const [entry, setEntry] = useState("");
  const [at, setAt] = useState(0);
  const list = useRef<HTMLDivElement>(null);
  const answered = useAnswer(entry.trim(), navigate);
  const found = useMemo(() => {
    const here = find(board, actions, entry, navigate);
    return answered ? [answered, ...here] : here;
  }, [board, actions, entry, navigate, answered]);
  const chosen = Math.min(at, Math.max(0, found.length - 1));
  const move = (to: number) => {
    setAt(to);
    list.current?.children[to]?.scrollIntoView({ block: "nearest" });
  };
  const run = (each: Found | undefined) => {
    if (!each) return;
    onHide();
    each.run();
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "ArrowDown") move(Math.min(chosen + 1, found.length - 1));
    else if (event.key === "ArrowUp") move(Math.max(chosen - 1, 0));
    else if (event.key === "Enter") run(found[chosen]);
    else return;
    event.preventDefault();
  };
  return (
    <Modal show onHide={onHide} aria-label="Find" className="find">
      <Modal.Body>
        <Form.Control
          autoFocus
          role="combobox"
          aria-label="Find a source, a frame, a conversion or a command, or ask a question"
          aria-expanded="true"
          aria-controls="found"
          aria-activedescendant={found[chosen] ? `found-${chosen}` : undefined}
          placeholder="source, frame, command, or a question: 2.39 from UHD"
          value={entry}
          autoComplete="off"
          spellCheck={false}
          onChange={(event) => {
            setEntry(event.target.value);
            setAt(0);
          }}
          onKeyDown={onKeyDown}
        />
        <div className="found" id="found" role="listbox" aria-label="What was found" ref={list}>
          {found.map((each, index) => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the entry takes the keys
            <div
              key={each.key}
              id={`found-${index}`}
              role="option"
              aria-selected={index === chosen}
              data-kind={each.kind}
              onClick={() => run(each)}
            >
              <small className="quiet">{each.kind}</small>
              <b>{each.title}</b>
              <span className="quiet">{each.detail}</span>
            </div>
          ))}
        </div>
        {found.length === 0 && (
          <p className="quiet m-2">
            Nothing found. Every word must match; a question needs a number, as in “2.39 from UHD”.
          </p>
        )}
      </Modal.Body>
    </Modal>
  );
}
