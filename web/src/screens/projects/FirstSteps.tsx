import { useQueryClient } from "@tanstack/react-query";
import { type DragEvent, type FormEvent, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useNavigate } from "react-router";
import { api, settled } from "../../api/client";
import { projectsQuery } from "../../api/queries";
import { beginTour } from "../../manual/Tour";
import { useNotices } from "../../notices/notices";
import { For } from "../../people/may";
import { dropFiles } from "../../shell/droppedFiles";
import { useOnce } from "../../writes/useOnce";
import { NEW_PROJECT } from "./newProject";

/** What this is, and four ways to begin, for somebody who has no project yet. */
export function FirstSteps() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { tellFailure } = useNotices();
  const [question, setQuestion] = useState("");
  const demo = useOnce(async (guided: boolean) => {
    try {
      const project = await settled(api.POST("/api/v1/projects/demo"));
      await client.invalidateQueries({ queryKey: projectsQuery.queryKey });
      if (guided) beginTour(project.id);
      void navigate(`/projects/${project.id}/board`);
    } catch (error) {
      tellFailure("The demo could not be opened", error);
    }
  });
  const begin = useOnce(async (event: DragEvent) => {
    event.preventDefault();
    const { dataTransfer } = event;
    const folder = dataTransfer.items[0]?.webkitGetAsEntry()?.name ?? "Footage";
    const files = dropFiles(dataTransfer);
    try {
      const project = await settled(api.POST("/api/v1/projects", { body: { ...NEW_PROJECT, name: folder } }));
      await client.invalidateQueries({ queryKey: projectsQuery.queryKey });
      await files;
      void navigate(`/projects/${project.id}/footage/files`);
    } catch (error) {
      tellFailure("No project was created", error);
    }
  });
  const ask = (event: FormEvent) => {
    event.preventDefault();
    if (question.trim()) void navigate(`/slide-rule?q=${encodeURIComponent(question.trim())}`);
  };
  return (
    <div className="first-steps">
      <p>
        Ratiomet plans how footage fills delivery frames: desqueeze, extraction, pixel aspect, scaling, 360.
        <br />
        Enter the footage and the frames to deliver; the board shows every conversion and what it costs.
        <br />
        Then type the numbers into your program, or hand off plan sheets, framing lists and recipes.
      </p>
      <div className="steps">
        <For may="plan">
          <section>
            <h2>Look around</h2>
            <Button variant="ink" aria-disabled={demo.pending} onClick={() => demo.run(false)}>
              Open demo project
            </Button>{" "}
            <Button aria-disabled={demo.pending} onClick={() => demo.run(true)}>
              Take the tour
            </Button>
          </section>
          <section>
            <h2>Start with footage</h2>
            <fieldset
              className="drop-room"
              aria-label="Drop footage"
              onDragOver={(event) => event.preventDefault()}
              onDrop={begin.run}
            >
              Drop a folder of footage here to create a project from its headers.
            </fieldset>
          </section>
        </For>
        <section>
          <h2>Ask one question</h2>
          <form className="d-flex gap-2" onSubmit={ask}>
            <Form.Control
              aria-label="Question"
              placeholder="2.39 from UHD"
              value={question}
              onChange={(event) => setQuestion(event.target.value)}
            />
            <Button type="submit">Ask</Button>
          </form>
        </section>
      </div>
    </div>
  );
}
