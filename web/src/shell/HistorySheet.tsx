import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { api, settled } from "../api/client";
import { projectKey } from "../api/queries";
import { When } from "../drawing/When";
import { Key } from "../keys/Key";
import { useCommands } from "../keys/useCommands";
import { Notice } from "../notices/Notice";
import { For, useMay } from "../people/may";
import { useHistory } from "../writes/useHistory";

/** Every step of a project, readable, each a place to go to. */
export function HistorySheet({ project, onHide }: { project: number; onHide: () => void }) {
  const { head, undo, redo, go } = useHistory(project);
  const plans = useMay("plan");
  const [by, setBy] = useState("");
  const { data, hasNextPage, fetchNextPage, error } = useInfiniteQuery({
    queryKey: [...projectKey(project), "history", head?.at, by],
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam, signal }) =>
      settled(
        api.GET("/api/v1/projects/{project}/history", {
          signal,
          params: {
            path: { project },
            query: { ...(pageParam !== undefined && { before: pageParam }), ...(by && { by }) },
          },
        }),
      ),
    getNextPageParam: (last) => (last.more ? last.steps.at(-1)?.id : undefined),
    placeholderData: keepPreviousData,
  });
  useCommands("dialog", { undo, redo });
  const steps = data?.pages.flatMap((page) => page.steps) ?? [];
  const bounds = data?.pages[0];
  const people = bounds?.people ?? [];
  const at = head?.at;
  const redone = new Set<number>();
  // What lies ahead on the line is what redo would carry out.
  for (const step of steps) if (step.on_line && at !== undefined && step.id > at) redone.add(step.id);
  return (
    <Modal show onHide={onHide} aria-labelledby="history-title" size="lg" scrollable>
      <Modal.Header closeButton>
        <Modal.Title id="history-title" as="h2">
          History
        </Modal.Title>
        <For may="plan">
          <div className="d-flex gap-2 ms-3">
            <Button size="sm" disabled={!head?.undo && !head?.in_the_way} onClick={undo}>
              Undo <Key of="undo" />
            </Button>
            <Button size="sm" disabled={!head?.redo} onClick={redo}>
              Redo <Key of="redo" />
            </Button>
          </div>
        </For>
      </Modal.Header>
      <Modal.Body>
        <p className="quiet small">
          {plans && "Go to any step to restore the project as it was then. "}An abandoned branch is kept for{" "}
          {bounds?.branch_days ?? 30} days
          {bounds && `, and the last ${bounds.most_steps.toLocaleString("en")} steps of the project`}.
        </p>
        {people.length > 0 && (
          <Form.Group className="d-flex gap-2 align-items-center mb-2" controlId="history-by">
            <Form.Label className="mb-0">Steps of</Form.Label>
            <Form.Select
              size="sm"
              className="w-auto"
              value={by}
              onChange={(event) => setBy(event.target.value)}
            >
              <option value="">everybody</option>
              {people.map((name) => (
                <option key={name}>{name}</option>
              ))}
            </Form.Select>
          </Form.Group>
        )}
        {error && <Notice>The history could not be read.</Notice>}
        <ol className="history" reversed>
          {steps.map((step) => (
            <li key={step.id} aria-current={step.id === at ? "step" : undefined} data-line={step.on_line}>
              <When at={step.made_at} />
              <span className="what">
                {step.label}
                {step.made_by && <span className="quiet"> by {step.made_by}</span>}
                {!step.on_line && <em className="quiet"> on an abandoned branch</em>}
                {redone.has(step.id) && <em className="quiet"> undone</em>}
              </span>
              <span className="num quiet">{step.changes > 0 ? `${step.changes} changed` : ""}</span>
              {step.id === at ? (
                <b>you are here</b>
              ) : (
                plans && (
                  <Button
                    size="sm"
                    onClick={() => go(step.id, `Now at: ${step.label}.`)}
                    aria-label={`Go to ${step.label}`}
                  >
                    Go here
                  </Button>
                )
              )}
            </li>
          ))}
        </ol>
        {hasNextPage && (
          <Button size="sm" onClick={() => fetchNextPage()}>
            Show older steps
          </Button>
        )}
      </Modal.Body>
    </Modal>
  );
}
