import { readFileSync } from "node:fs";
import { basename } from "node:path";
import { marked } from "marked";
import type { Plugin } from "vite";

/** A part of a page: words, or a question that the program answers where it stands. */
export type Part = { html: string } | { ask: string };

/** A page of the manual, as it is written in Markdown under a heading with its address. */
export interface Page {
  id: string;
  group: string;
  title: string;
  parts: Part[];
  /** What it says, for those who search. */
  text: string;
}

const ASK = /```ask\n([\s\S]*?)\n```/g;

function partsOf(body: string): Part[] {
  const parts: Part[] = [];
  body.split(ASK).forEach((piece, at) => {
    if (at % 2 === 1) parts.push({ ask: piece.trim() });
    else if (piece.trim()) parts.push({ html: marked.parse(piece, { async: false }) });
  });
  return parts;
}

/** The pages of a file: `# Group`, then `## Title {#address}` and what it says. */
export function pagesOf(markdown: string, file: string): Page[] {
  const [head = "", ...sections] = markdown.split(/^## /m);
  const group = head.replace(/^# /, "").trim();
  return sections.map((section) => {
    const [, title, id, body] = /^(.+?) \{#([\w/-]+)\}\n([\s\S]*)$/.exec(section) ?? [];
    if (!title || !id || !body?.trim()) throw new Error(`${file}: "${section.split("\n")[0]}" is no page`);
    return { id, group, title, parts: partsOf(body), text: body.replace(/[#*`[\]()]/g, " ").toLowerCase() };
  });
}

/** Makes pages of the manual out of Markdown when the pages are built: nothing of that runs in the browser. */
export function manual(): Plugin {
  return {
    name: "manual",
    load(id) {
      if (!id.includes("/manual/pages/") || !id.endsWith(".md")) return null;
      this.addWatchFile(id);
      return `export default ${JSON.stringify(pagesOf(readFileSync(id, "utf8"), basename(id)))};`;
    },
  };
}
