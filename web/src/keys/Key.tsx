import { announced, type Command, entry, isSingle, shown } from "./table";
import { useSingleKeys } from "./useCommands";

/** The key of a command, on its button. */
export function Key({ of }: { of: Command }) {
  const [single] = useSingleKeys();
  const key = entry(of).keys.find((each) => single || !isSingle(each));
  return key === undefined ? null : <kbd>{shown(key)}</kbd>;
}

/** What a button says of the keys of its command. */
export const keysOf = (of: Command) => ({ "aria-keyshortcuts": entry(of).keys.map(announced).join(" ") });
