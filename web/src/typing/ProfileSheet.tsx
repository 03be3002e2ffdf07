import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Button, ButtonGroup, Form, Modal } from "react-bootstrap";
import { api, type HouseProfile, type Problem, Refused, settled, wrongAt } from "../api/client";
import { libraryQuery } from "../api/queries";
import { Choice, Field } from "../fields/Field";
import { useNotices } from "../notices/notices";
import { useOnce } from "../writes/useOnce";
import { USUAL } from "./profiles";
import { QUESTIONS, QuestionMark } from "./questions";

const DECIMALS = [0, 1, 2, 3, 4, 5, 6].map((count) => [String(count), (0).toFixed(count)] as const);

interface Props {
  /** The profile that is changed; a new one without. */
  profile?: HouseProfile | undefined;
  onHide: () => void;
  onSaved?: ((id: number) => void) | undefined;
}

/** What does your program ask for? A few drawn questions, kept under a name of one's own. */
export function ProfileSheet({ profile, onHide, onSaved }: Props) {
  const client = useQueryClient();
  const { tellFailure } = useNotices();
  const [name, setName] = useState(profile?.values.name ?? "");
  const [answers, setAnswers] = useState(profile?.values.profile ?? USUAL);
  const [problem, setProblem] = useState<Problem>();
  const { run: save, pending } = useOnce(async () => {
    const body = { name, profile: answers };
    try {
      const saved = await settled(
        profile
          ? api.PUT("/api/v1/library/profiles/{profile}", {
              params: { path: { profile: profile.id }, header: { "If-Match": `"${profile.version}"` } },
              body,
            })
          : api.POST("/api/v1/library/profiles", { body }),
      );
      await client.invalidateQueries({ queryKey: libraryQuery.queryKey });
      onSaved?.(saved.id);
      onHide();
    } catch (failure) {
      if (failure instanceof Refused && failure.problem.status === 422) setProblem(failure.problem);
      else tellFailure("Profile not saved", failure);
    }
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void save();
  };
  return (
    <Modal show onHide={onHide} aria-labelledby="profile-title" size="xl" scrollable>
      <Form onSubmit={submit} className="profile-form">
        <Modal.Header closeButton>
          <Modal.Title id="profile-title" as="h2">
            What does your program ask for?
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <Field
            label="name of this profile"
            autoFocus
            empty="Online room"
            value={name}
            wrong={wrongAt(problem, "/name")}
            onText={(text) => {
              setName(text);
              setProblem(undefined);
            }}
          />
          <div className="questions">
            {QUESTIONS.map(({ key, asks, answers: choices, drawing }) => (
              <fieldset key={key}>
                <QuestionMark>{drawing(answers[key])}</QuestionMark>
                <div>
                  <legend>{asks}</legend>
                  <ButtonGroup size="sm" aria-label={asks}>
                    {choices.map(([id, words]) => (
                      <Button
                        key={id}
                        active={answers[key] === id}
                        aria-pressed={answers[key] === id}
                        onClick={() => setAnswers((now) => ({ ...now, [key]: id }))}
                      >
                        {words}
                      </Button>
                    ))}
                  </ButtonGroup>
                </div>
              </fieldset>
            ))}
            <div className="decimals">
              <Choice
                label="decimals of a size"
                value={String(answers.zoom_decimals)}
                options={DECIMALS}
                onChoose={(count) => setAnswers((now) => ({ ...now, zoom_decimals: Number(count) }))}
              />
              <Choice
                label="decimals of a place"
                value={String(answers.place_decimals)}
                options={DECIMALS}
                onChoose={(count) => setAnswers((now) => ({ ...now, place_decimals: Number(count) }))}
              />
            </div>
          </div>
        </Modal.Body>
        <Modal.Footer>
          <Button onClick={onHide}>Cancel</Button>
          <Button type="submit" variant="ink" aria-disabled={pending}>
            Save profile
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}
