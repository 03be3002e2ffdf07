import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useEffect, useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { api, settled } from "../../api/client";
import { linksQuery } from "../../api/queries";
import { copyText } from "../../fields/Figure";
import { failureText, useNotices } from "../../notices/notices";
import { For } from "../../people/may";
import { useOnce } from "../../writes/useOnce";

const DAYS = [
  ["7", "a week"],
  ["14", "two weeks"],
  ["30", "30 days"],
  ["90", "90 days"],
] as const;

/** Links that show the plan to whoever has them, and nothing else of the server. */
export function Links({ project }: { project: number }) {
  const client = useQueryClient();
  const { tell, tellFailure } = useNotices();
  const { data: links = [], error } = useQuery(linksQuery(project));
  const [name, setName] = useState("");
  const [days, setDays] = useState("14");
  const [made, setMade] = useState<string>();
  const shown = useRef<HTMLParagraphElement>(null);
  useEffect(() => {
    if (made) shown.current?.scrollIntoView({ block: "nearest" });
  }, [made]);
  const refresh = () => client.invalidateQueries({ queryKey: linksQuery(project).queryKey });
  const copy = async (address: string) =>
    tell((await copyText(address)) ? "Link copied." : "The clipboard is not available here.");
  const { run: add, pending } = useOnce(async () => {
    try {
      const link = await settled(
        api.POST("/api/v1/projects/{project}/links", {
          params: { path: { project } },
          body: { name: name.trim() || "client", days: Number(days) },
        }),
      );
      setMade(new URL(link.path ?? "", location.origin).href);
      setName("");
    } catch (failure) {
      tellFailure("No link was created", failure);
    }
    await refresh();
  });
  const remove = async (link: number) => {
    try {
      await settled(
        api.DELETE("/api/v1/projects/{project}/links/{link}", { params: { path: { project, link } } }),
      );
      tell("Link removed. It shows nothing any more.");
    } catch (failure) {
      tellFailure("Link not removed", failure);
    }
    await refresh();
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void add();
  };
  return (
    <section aria-label="Links for clients">
      <p className="quiet">
        A link shows the plan sheets as they are when it is opened, to whoever has it, and nothing else of
        this server.
      </p>
      <For may="plan">
        <Form className="link-form" onSubmit={submit}>
          <Form.Control
            size="sm"
            className="filter"
            aria-label="Who the link is for"
            placeholder="for whom"
            maxLength={120}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <Form.Select
            size="sm"
            aria-label="How long the link works"
            value={days}
            onChange={(event) => setDays(event.target.value)}
          >
            {DAYS.map(([value, says]) => (
              <option key={value} value={value}>
                {says}
              </option>
            ))}
          </Form.Select>
          <Button size="sm" type="submit" disabled={pending}>
            Create link
          </Button>
        </Form>
      </For>
      {made && (
        <p className="made" role="status" ref={shown}>
          <a href={made} target="_blank" rel="noreferrer">
            {made}
          </a>{" "}
          <Button size="sm" onClick={() => copy(made)}>
            Copy link
          </Button>
          <span className="quiet"> It is shown only now.</span>
        </p>
      )}
      {error && <p role="alert">{failureText(error)}</p>}
      <ul className="links">
        {links.map((link) => (
          <li key={link.id}>
            <b>{link.name}</b>
            <span className="quiet">
              {link.until > Date.now() ? "until" : "ended"} {new Date(link.until).toLocaleDateString("sv")}
              {link.made_by && `, by ${link.made_by}`}
            </span>
            <For may="plan">
              <Button
                size="sm"
                variant="plain"
                aria-label={`Remove the link for ${link.name}`}
                onClick={() => remove(link.id)}
              >
                Remove
              </Button>
            </For>
          </li>
        ))}
      </ul>
    </section>
  );
}
