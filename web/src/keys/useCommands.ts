import { useLayoutEffect, useRef, useSyncExternalStore } from "react";
import { here, keep, kept } from "../kept";
import { useMay } from "../people/may";
import { belongsTo, type Focus, type Handlers, type Level, nameOf, Stack } from "./stack";
import { type Command, entry } from "./table";

const stack = new Stack();

const SINGLE = "ratiomet.single-keys";
const listeners = new Set<() => void>();
let single = kept(here, SINGLE, true, (value): value is boolean => typeof value === "boolean");

/** Whether keys of one character are commands, and switching that. */
export function useSingleKeys(): [boolean, (on: boolean) => void] {
  const on = useSyncExternalStore(
    (changed) => {
      listeners.add(changed);
      return () => listeners.delete(changed);
    },
    () => single,
  );
  return [
    on,
    (next) => {
      single = next;
      keep(here, SINGLE, next);
      for (const changed of listeners) changed();
    },
  ];
}

const NO_TEXT = ["button", "checkbox", "file", "radio", "reset", "submit"];

function focusOf(target: EventTarget | null): Focus {
  if (!(target instanceof HTMLElement)) return { typing: false, pressable: false };
  const input = target instanceof HTMLInputElement;
  return {
    typing: input ? !NO_TEXT.includes(target.type) : target.matches("textarea, select, [contenteditable]"),
    pressable: input || target.matches("button, a[href], summary, [role=button], [role=tab]"),
  };
}

/** Listens to keys, for the whole page. */
export function listenToKeys() {
  document.addEventListener("keydown", (event) => {
    const name = nameOf(event);
    if (!name || event.defaultPrevented || belongsTo(focusOf(event.target), event)) return;
    const dialog = document.querySelector(".modal") !== null;
    if (stack.press(name, { dialog, single })) event.preventDefault();
  });
}

/** What is left for somebody who may look and not plan. */
function withoutChanges(handlers: Handlers): Handlers {
  const left = Object.entries(handlers).filter(([command]) => !entry(command as Command).changes);
  return Object.fromEntries(left);
}

/** Gives commands what they do, as long as what asks for it is on the screen. */
export function useCommands(level: Level, handlers: Handlers) {
  const plans = useMay("plan");
  const latest = useRef(handlers);
  latest.current = plans ? handlers : withoutChanges(handlers);
  // Before it is painted: what is seen takes keys.
  useLayoutEffect(() => stack.open(level, () => latest.current), [level]);
}
