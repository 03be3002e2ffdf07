import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { NavLink, useSearchParams } from "react-router";
import { api, type Problem, preview } from "../../api/client";
import type { CalcRequest } from "../../calculations";
import { Field } from "../../fields/Field";
import { copyText } from "../../fields/Figure";
import { HelpWith } from "../../manual/HelpWith";
import { Notice } from "../../notices/Notice";
import { failureText, useNotices } from "../../notices/notices";
import { Head } from "../../shell/Head";
import { lastProject } from "../../shell/lastProject";
import { useTitle } from "../../shell/ScreenHead";
import { KINDS, type Kind, type KindId, type Layout, type Own, type Published } from "./kinds";
import { keepRows, keptRows, withOne } from "./ownRows";
import { arranged, asText, type Order, Register } from "./Register";

/** What is published; safe areas of one's own are laid out with those that are. */
const published = (kind: KindId, own: Own) => {
  const query =
    kind === "safe"
      ? { safe: own.numbers.join(","), frames: own.sizes.map((sides) => sides.join("x")).join(",") }
      : {};
  return preview(api.GET("/api/v1/tables", { params: { query } }));
};

const publishedQuery = (kind: KindId, own: Own) =>
  queryOptions({
    queryKey: ["tables", ...(kind === "safe" ? [own] : [])],
    queryFn: () => published(kind, own),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });

const NONE: unknown[] = [];

const many = (requests: CalcRequest[]) => preview(api.POST("/api/v1/calc/many", { body: { requests } }));

/** Tables that answer by being looked at; the address holds which, and how it is arranged. */
export default function TablesScreen() {
  const [search] = useSearchParams();
  const kind = KINDS.find(({ id }) => id === search.get("of")) ?? KINDS[0];
  return (
    <>
      <Head project={lastProject()} />
      <main className="page" id="main">
        <div className="tables">
          <nav className="sheet families" aria-label="Tables">
            {KINDS.map(({ id, name, asks }) => (
              <NavLink
                key={id}
                to={`?of=${id}`}
                className={() => ""}
                aria-current={id === kind?.id ? "page" : false}
              >
                <b>{name}</b>
                <small>{asks}</small>
              </NavLink>
            ))}
          </nav>
          {kind && <Table key={kind.id} kind={kind} />}
        </div>
      </main>
    </>
  );
}

/** What is wrong with the target, if that is what was refused. */
const wrongTarget = (problem?: Problem) =>
  problem?.errors?.find(({ pointer }) => pointer.endsWith("/target_ratio"))?.detail;

function Table({ kind }: { kind: Kind }) {
  const { tell } = useNotices();
  const heading = useTitle(`${kind.name}, tables`);
  const [search, setSearch] = useSearchParams();
  const [own, setOwn] = useState(() => keptRows(kind.id));
  const [target, setTarget] = useState(search.get("target") ?? "2.39");
  const [words, setWords] = useState(search.get("words") ?? "");
  const table = useQuery(publishedQuery(kind.id, own));
  const of = table.data?.sound ? table.data.value : undefined;
  const requests = of ? kind.requests(of, own, target) : [];
  const cells = useQuery({
    queryKey: ["many", requests],
    queryFn: () => many(requests),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    enabled: requests.length > 0,
  });
  const error = table.error ?? cells.error;
  const problem =
    table.data && !table.data.sound
      ? table.data.problem
      : cells.data && !cells.data.sound
        ? cells.data.problem
        : undefined;
  const results = requests.length === 0 ? NONE : cells.data?.sound ? cells.data.value.results : undefined;
  // The last good table stays while what is typed is refused, or on its way.
  const [good, setGood] = useState<{ of: Published; results: unknown[]; layout: Layout }>();
  const fresh = !table.isPlaceholderData && !cells.isPlaceholderData;
  if (of && results && fresh && (good?.of !== of || good.results !== results))
    setGood({ of, results, layout: kind.lay(of, own, target, results) });
  const layout = good?.layout;
  const note = (key: string, value: string, first = "") => {
    const next = new URLSearchParams(search);
    if (value === first) next.delete(key);
    else next.set(key, value);
    setSearch(next, { replace: true });
  };
  const by = Number(search.get("by"));
  const order =
    by > 0 && layout && by <= layout.columns.length ? { by: by - 1, down: search.has("down") } : undefined;
  const setOrder = (order?: Order) => {
    const next = new URLSearchParams(search);
    next.delete("by");
    next.delete("down");
    if (order) next.set("by", String(order.by + 1));
    if (order?.down) next.set("down", "");
    setSearch(next, { replace: true });
  };
  const rows = layout ? arranged(layout.rows, words, order) : [];
  const keep = (next: Own) => {
    keepRows(kind.id, next);
    setOwn(next);
  };
  const copy = async () =>
    tell(
      layout && (await copyText(asText(layout, rows)))
        ? "Table copied, tab-separated."
        : "The clipboard is not available here.",
    );
  return (
    <section className="sheet" aria-label={kind.name}>
      <div className="sheet-head">
        <h1 ref={heading} tabIndex={-1}>
          {kind.name}
        </h1>
        {kind.target && (
          <Field
            label="target ratio"
            className="in-head"
            unit=": 1"
            numeric
            empty="none"
            value={target}
            wrong={wrongTarget(problem)}
            onText={(text) => {
              setTarget(text);
              note("target", text, "2.39");
            }}
          />
        )}
        <div className="end">
          <HelpWith id={`table/${kind.id}`} />
          <Form.Control
            type="search"
            className="filter"
            aria-label="Filter rows"
            placeholder="Filter"
            value={words}
            onChange={(event) => {
              setWords(event.target.value);
              note("words", event.target.value);
            }}
          />
          <Button size="sm" onClick={copy}>
            Copy
          </Button>
          <Button size="sm" onClick={() => window.print()}>
            Print
          </Button>
        </div>
      </div>
      {error && <Notice slim>{failureText(error)}</Notice>}
      {problem && !wrongTarget(problem) && (
        <Notice slim role="alert">
          One of your rows is not valid: {problem.errors?.[0]?.detail}{" "}
          <Button size="sm" onClick={() => keep({ sizes: [], numbers: [] })}>
            Remove your rows
          </Button>
        </Notice>
      )}
      <div className="scroll">
        {layout && <Register name={kind.name} layout={layout} rows={rows} order={order} onOrder={setOrder} />}
        {layout && rows.length === 0 && (
          <p className="px-3">
            No row matches this filter.{" "}
            <Button size="sm" onClick={() => setWords("")}>
              Clear filter
            </Button>
          </p>
        )}
      </div>
      <div className="table-foot">
        <p className="quiet">{kind.reads}</p>
        {kind.adds && (
          <OwnRows
            adds={kind.adds}
            own={own}
            // Asked before it is kept, so that a bad one is never in the table.
            sound={async (next) => {
              const around = await published(kind.id, next);
              const answer = around.sound ? await many(kind.requests(around.value, next, "")) : around;
              return answer.sound ? undefined : (answer.problem.errors?.[0]?.detail ?? answer.problem.detail);
            }}
            onOwn={keep}
          />
        )}
      </div>
    </section>
  );
}

interface OwnProps {
  adds: NonNullable<Kind["adds"]>;
  own: Own;
  /** What is wrong with these rows. */
  sound: (own: Own) => Promise<string | undefined>;
  onOwn: (own: Own) => void;
}

/** Rows and columns of one's own, kept in this browser. */
function OwnRows({ adds, own, sound, onOwn }: OwnProps) {
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState<string>();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const next = withOne(own, text);
    const [isSize, isNumber] = [next.sizes !== own.sizes, next.numbers !== own.numbers];
    if (!text.trim() || (isSize && !adds.sizes) || (isNumber && !adds.numbers)) {
      setWrong(`Must be ${adds.says}.`);
      return;
    }
    if (own.sizes.length + own.numbers.length >= 24) {
      setWrong("At most 24 rows of your own. Remove one first.");
      return;
    }
    try {
      const refused = await sound(next);
      setWrong(refused);
      if (refused) return;
      onOwn(next);
      setText("");
    } catch (failure) {
      setWrong(failureText(failure));
    }
  };
  const chips = [
    ...own.sizes.map((sides, at) => ({
      name: sides.join("×"),
      without: { ...own, sizes: own.sizes.filter((_, place) => place !== at) },
    })),
    ...own.numbers.map((number, at) => ({
      name: number,
      without: { ...own, numbers: own.numbers.filter((_, place) => place !== at) },
    })),
  ];
  return (
    <form className="own-rows" onSubmit={submit}>
      <input
        className="bare-entry"
        aria-label="Add to the table"
        aria-invalid={wrong ? true : undefined}
        placeholder={`Add ${adds.says}`}
        maxLength={40}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <Button size="sm" type="submit">
        Add
      </Button>
      {chips.map(({ name, without }, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the same one can be there twice
        <span key={at} className="own">
          <span className="num">{name}</span>
          <button type="button" className="copy" aria-label={`Remove ${name}`} onClick={() => onOwn(without)}>
            ×
          </button>
        </span>
      ))}
      {wrong && (
        <small className="text-cut" role="alert">
          {wrong}
        </small>
      )}
    </form>
  );
}
