import type { Page } from "../../manual.plugin";
import { CONVENTIONS } from "../screens/framing/conventions";
import findings from "./pages/findings.md";
import notions from "./pages/notions.md";
import screens from "./pages/screens.md";
import tables from "./pages/tables.md";

export type { Page };

const escaped = (text: string) => text.replaceAll("&", "&amp;").replaceAll("<", "&lt;");

/** The conventions are described where they are defined. */
const conventions: Page[] = CONVENTIONS.map(({ id, name, hint, sentence }) => ({
  id: `convention/${id}`,
  group: "Conventions",
  title: name.charAt(0).toUpperCase() + name.slice(1),
  parts: [{ html: `<p>${escaped(sentence)}</p><p class="quiet">${escaped(hint)}</p>` }],
  text: `${sentence} ${hint}`.toLowerCase(),
}));

/** Every page, in the order of the printed manual. */
export const PAGES: readonly Page[] = [...screens, ...notions, ...conventions, ...findings, ...tables];

export const pageOf = (id: string): Page | undefined => PAGES.find((page) => page.id === id);

/** Where a page stands in the manual. */
export const addressOf = (id: string) => `/manual#${id}`;

/** The page of the screen at an address. */
export function pageAt(pathname: string): Page | undefined {
  const [, first, , screen, third, fourth] = pathname.split("/");
  const id = () => {
    if (first !== "projects") return { "": "projects", "slide-rule": "rule" }[first ?? ""] ?? first;
    if (screen === "footage") return fourth ?? third ?? "footage";
    if (screen === "deliveries") return third ?? "deliveries";
    if (screen === "handoff") return "handoff";
    if (third === "points" || !third) return third ?? "board";
    if (third === "proof") return "board-proof";
    return pathname.endsWith("/proof") ? "proof" : "framing";
  };
  return pageOf(`screen/${id()}`);
}
