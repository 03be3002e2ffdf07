import { useQuery } from "@tanstack/react-query";
import type { MouseEvent } from "react";
import { Link, useNavigate } from "react-router";
import { askQuery } from "../api/queries";
import { addressFor, calculationOf, entriesOf } from "../calculations";
import { RuleDrawing } from "../screens/rule/RuleDrawing";
import { addressOf, type Page } from "./manual";

/** What a page of the manual says. Its examples are worked out by the program. */
export function PageText({ page, drawn = true }: { page: Page; drawn?: boolean }) {
  const navigate = useNavigate();
  // Links to other pages are written as they stand in the printed manual.
  const follow = (event: MouseEvent) => {
    const link =
      event.target instanceof Element ? event.target.closest("a")?.getAttribute("href") : undefined;
    if (!link?.startsWith("#")) return;
    event.preventDefault();
    void navigate(addressOf(link.slice(1)));
  };
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: a link is also followed by its key, which is a click
    // biome-ignore lint/a11y/noStaticElementInteractions: what is clicked are the links within
    <div className="page-text" onClick={follow}>
      {page.parts.map((part) =>
        "ask" in part ? (
          <Worked key={part.ask} question={part.ask} drawn={drawn} />
        ) : (
          // biome-ignore lint/security/noDangerouslySetInnerHtml: made of our own pages when they are built
          <div key={part.html} dangerouslySetInnerHTML={{ __html: part.html }} />
        ),
      )}
    </div>
  );
}

/** An example: a question, its answer, its drawing, and the way to the slide rule. */
function Worked({ question, drawn }: { question: string; drawn: boolean }) {
  const { data } = useQuery(askQuery(question));
  const answer = data?.answer;
  const address = answer?.request && addressFor(answer.request as Record<string, unknown>);
  const calculation = address && calculationOf(address.get("of"));
  return (
    <figure className="worked">
      <figcaption>
        <Link to={`/slide-rule?${address ?? new URLSearchParams({ q: question })}`}>{question}</Link>
        {answer && <span>{answer.sentence}</span>}
      </figcaption>
      {drawn && calculation && answer?.result && (
        <RuleDrawing
          calculation={calculation}
          entries={entriesOf(calculation, address)}
          result={answer.result as Parameters<typeof calculation.lines>[0]}
        />
      )}
    </figure>
  );
}
