import { useEffect, useState } from "react";
import { tip } from "../tip";

/** Puts text on the clipboard, also where the page may not use it directly. */
export async function copyText(text: string): Promise<boolean> {
  try {
    await navigator.clipboard.writeText(text);
    return true;
  } catch {
    const area = document.createElement("textarea");
    area.value = text;
    document.body.append(area);
    area.select();
    const done = document.execCommand("copy");
    area.remove();
    return done;
  }
}

interface Props {
  /** What is shown. */
  shown: string;
  /** What is copied: a plain number, as one would type it. */
  copies: string;
  /** What it is, for those who do not see where it stands. */
  name: string;
  exact?: string | undefined;
}

/** A figure that copies itself with one click or key. */
export function Figure({ shown, copies, name, exact }: Props) {
  const [state, setState] = useState<"" | "copied" | "not copied">("");
  useEffect(() => {
    if (!state) return;
    const timer = setTimeout(() => setState(""), 1500);
    return () => clearTimeout(timer);
  }, [state]);
  return (
    <button
      type="button"
      className="figure num"
      aria-label={`Copy ${name}: ${shown}`}
      {...tip([`copies ${copies}`, exact].filter(Boolean).join("; "))}
      data-copies={copies}
      onClick={async () => setState((await copyText(copies)) ? "copied" : "not copied")}
    >
      {state || shown}
    </button>
  );
}
