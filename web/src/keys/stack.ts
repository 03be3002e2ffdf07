import { COMMANDS, type Command, isSingle } from "./table";

/** What a key is asked of, the innermost last. */
export const LEVELS = ["application", "project", "screen", "drawing", "dialog"] as const;
export type Level = (typeof LEVELS)[number];

/** A key that was pressed, as far as the commands go by it. */
export interface Press {
  key: string;
  shiftKey: boolean;
  ctrlKey: boolean;
  metaKey: boolean;
  altKey: boolean;
}

/** What a handler does; false passes the key on outwards. */
export type Handler = (key: string) => unknown;
export type Handlers = { [C in Command]?: Handler | undefined };

/** The name of what is pressed: letters small, with Shift for them and for named keys. */
export function nameOf({ key, shiftKey, ctrlKey, metaKey, altKey }: Press): string | undefined {
  if (altKey) return undefined;
  const letter = key.length === 1 && key.toLowerCase() !== key.toUpperCase();
  // A sign such as ? is typed with Shift on some keyboards and without on others.
  const shift = shiftKey && (letter || key.length > 1);
  const control = ctrlKey || metaKey;
  return (control ? "Control+" : "") + (shift ? "Shift+" : "") + (letter ? key.toLowerCase() : key);
}

interface Scope {
  level: Level;
  handlers: () => Handlers;
}

/** The scopes that are open: a key goes to the innermost that takes it. */
export class Stack {
  private scopes: Scope[] = [];

  open(level: Level, handlers: () => Handlers): () => void {
    const scope = { level, handlers };
    this.scopes.push(scope);
    return () => {
      this.scopes = this.scopes.filter((each) => each !== scope);
    };
  }

  /** Whether some scope took the key. Beneath an open dialog nothing is asked. */
  press(name: string, { dialog = false, single = true } = {}): boolean {
    if (!single && isSingle(name)) return false;
    const innermost = dialog ? ["dialog"] : [...LEVELS].reverse();
    for (const level of innermost) {
      for (const scope of this.scopes.filter((each) => each.level === level).reverse()) {
        for (const [command, handler] of Object.entries(scope.handlers()) as [
          Command,
          Handler | undefined,
        ][]) {
          if (!handler || !(COMMANDS[command].keys as readonly string[]).includes(name)) continue;
          if (handler(name) !== false) return true;
        }
      }
    }
    return false;
  }
}

/** What somebody is on with: there it has keys of its own, which no command takes. */
export interface Focus {
  /** Text is being typed, or one of a list chosen. */
  typing: boolean;
  /** A button or a link, which Enter and the space bar press. */
  pressable: boolean;
}

/** Whether a key belongs to what has the focus. */
export function belongsTo({ typing, pressable }: Focus, { key }: Press): boolean {
  return typing || (pressable && (key === "Enter" || key === " "));
}
