import { useEffect, useMemo, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useLocation } from "react-router";
import { Head } from "../shell/Head";
import { lastProject } from "../shell/lastProject";
import { ScreenHead } from "../shell/ScreenHead";
import { addressOf, PAGES, type Page } from "./manual";
import { PageText } from "./PageText";

/** The pages under their headings, in their order. */
function grouped(pages: readonly Page[]): [string, Page[]][] {
  const groups = new Map<string, Page[]>();
  for (const page of pages) groups.set(page.group, [...(groups.get(page.group) ?? []), page]);
  return [...groups];
}

/** All of the manual as one document, to be read, searched and printed. */
export default function ManualScreen() {
  const { hash, key } = useLocation();
  const [words, setWords] = useState("");
  const shown = useMemo(() => {
    const all = words.toLowerCase().split(/\s+/).filter(Boolean);
    return PAGES.filter(({ title, text }) =>
      all.every((word) => text.includes(word) || title.toLowerCase().includes(word)),
    );
  }, [words]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the same link may be followed twice
  useEffect(() => {
    if (hash) document.getElementById(decodeURIComponent(hash.slice(1)))?.scrollIntoView();
  }, [hash, key]);
  return (
    <>
      <Head project={lastProject()} />
      <main className="page" id="main">
        <ScreenHead title="Manual" note={`${PAGES.length} pages; the examples are worked out by the program`}>
          <Form.Control
            type="search"
            className="filter"
            aria-label="Search the manual"
            placeholder="Search"
            value={words}
            onChange={(event) => setWords(event.target.value)}
          />
          <Button size="sm" onClick={() => window.print()}>
            Print
          </Button>
        </ScreenHead>
        <div className="manual">
          <nav className="sheet scroll" aria-label="Pages">
            {grouped(shown).map(([group, pages]) => (
              <section key={group}>
                <h2>{group}</h2>
                <ul>
                  {pages.map(({ id, title }) => (
                    <li key={id}>
                      <a href={addressOf(id)}>{title}</a>
                    </li>
                  ))}
                </ul>
              </section>
            ))}
            {shown.length === 0 && <p className="quiet">Nothing found. Every word must stand on the page.</p>}
          </nav>
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by key */}
          <section className="sheet scroll text" tabIndex={0} aria-label="The manual">
            {grouped(shown).map(([group, pages]) => (
              <section key={group}>
                <h2>{group}</h2>
                {pages.map((page) => (
                  <article key={page.id} id={page.id}>
                    <h3>{page.title}</h3>
                    <PageText page={page} />
                  </article>
                ))}
              </section>
            ))}
          </section>
        </div>
      </main>
    </>
  );
}
