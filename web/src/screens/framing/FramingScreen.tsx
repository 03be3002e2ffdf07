import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, matchPath, useNavigate, useParams } from "react-router";
import { Refused } from "../../api/client";
import { conversionQuery } from "../../api/queries";
import { useCommands } from "../../keys/useCommands";
import { Notice } from "../../notices/Notice";
import { failureText } from "../../notices/notices";
import { useBoard } from "../../shell/ProjectLayout";
import { Framing } from "./Framing";
import type { SourceView } from "./SourcePanel";
import { useView } from "./useView";

const ADDRESS = "/projects/:project/board/:source/:frame";

/** The framing of the conversion in the address, and the steps to its neighbours. */
export default function FramingScreen() {
  const { project, sources, frames } = useBoard();
  const params = useParams();
  const source = sources.find((each) => String(each.id) === params.source);
  const frame = frames.find((each) => String(each.id) === params.frame);
  const path = { project: project.id, source: Number(params.source), frame: Number(params.frame) };
  const { data: conversion, error } = useQuery({
    ...conversionQuery(path),
    enabled: Boolean(source && frame),
  });
  const navigate = useNavigate();
  const board = `/projects/${project.id}/board`;
  const step = (sourceBy: number, frameBy: number) => {
    const now = addressed();
    const toSource = sources[sources.findIndex(({ id }) => id === now.source) + sourceBy];
    const toFrame = frames[frames.findIndex(({ id }) => id === now.frame) + frameBy];
    if (toSource && toFrame) void navigate(`${board}/${toSource.id}/${toFrame.id}`);
  };
  const frameBy = (by: number) => step(0, by);
  const [sourceView, setSourceView] = useState<SourceView>({ stored: false, common: false, marking: false });
  const looks = useView();
  const before = usePrevious(path);
  useCommands("screen", {
    back: () => {
      const now = addressed();
      void navigate(`${board}?source=${now.source}&frame=${now.frame}`);
    },
    previousFrame: () => frameBy(-1),
    nextFrame: () => frameBy(1),
    previousSource: () => step(-1, 0),
    nextSource: () => step(1, 0),
  });
  if (!source || !frame || (error instanceof Refused && !conversion)) {
    return (
      <main className="page" id="main">
        <Notice role="alert">
          <span>
            {error
              ? failureText(error)
              : "This conversion no longer exists: its source or its frame was deleted."}
          </span>
          <Link to={`/projects/${project.id}/board`}>Back to the board</Link>
        </Notice>
      </main>
    );
  }
  if (!conversion) {
    return (
      <main className="page" id="main">
        {error ? (
          <Notice role="alert">{failureText(error)}</Notice>
        ) : (
          <p className="quiet" role="status">
            Calculating …
          </p>
        )}
      </main>
    );
  }
  return (
    <Framing
      key={`${source.id}-${frame.id}`}
      source={source}
      frame={frame}
      conversion={conversion}
      frameBy={frameBy}
      before={before}
      isHere={() => {
        const now = addressed();
        return now.source === source.id && now.frame === frame.id;
      }}
      sourceView={sourceView}
      setSourceView={(part) => setSourceView((now) => ({ ...now, ...part }))}
      looks={looks}
    />
  );
}

/** The conversion of the address: it is ahead of what is drawn while keys come fast. */
function addressed(): { source: number; frame: number } {
  const { source, frame } = matchPath(ADDRESS, window.location.pathname)?.params ?? {};
  return { source: Number(source), frame: Number(frame) };
}

/** The conversion that was here before this one. */
function usePrevious({ source, frame }: { source: number; frame: number }) {
  const visited = useRef<{ source: number; frame: number }[]>([]);
  const [, setCount] = useState(0);
  useEffect(() => {
    visited.current = [...visited.current.slice(-1), { source, frame }];
    setCount((count) => count + 1);
  }, [source, frame]);
  const [first, second] = visited.current;
  return second ? first : undefined;
}
