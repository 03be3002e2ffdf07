import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { api, type Library, settled } from "../../api/client";
import { pictureText } from "../../drawing/summary";
import { useNotices } from "../../notices/notices";
import { For } from "../../people/may";
import { useOnce } from "../../writes/useOnce";

/** The active pictures of the house, and a new guide by its ratio. */
export function ActivePictures({
  library,
  onChange,
}: {
  library?: Library | undefined;
  onChange: () => void;
}) {
  const { tell, tellFailure } = useNotices();
  const [guide, setGuide] = useState("");
  const pictures = library?.active_pictures ?? [];
  const { run: remove } = useOnce(async (id: number, version: number, name: string) => {
    try {
      await settled(
        api.DELETE("/api/v1/library/active-pictures/{picture}", {
          params: { path: { picture: id }, header: { "If-Match": `"${version}"` } },
        }),
      );
      tell(`“${name}” removed from the library.`);
    } catch (failure) {
      tellFailure("Not removed", failure);
    }
    onChange();
  });
  const { run: add, pending } = useOnce(async () => {
    try {
      await settled(
        api.POST("/api/v1/library/active-pictures", {
          body: { name: `${guide.trim()} guide`, guide: guide.trim() },
        }),
      );
      setGuide("");
    } catch (failure) {
      tellFailure("Not saved", failure);
    }
    onChange();
  });
  return (
    <div className="tools">
      <ul className="plain">
        {pictures.map(({ id, version, values }) => (
          <li key={id}>
            <span>{pictureText(values)}</span>
            <For may="house">
              <Button
                size="sm"
                variant="plain"
                aria-label={`Remove ${values.name} from the library`}
                onClick={() => remove(id, version, values.name)}
              >
                Remove
              </Button>
            </For>
          </li>
        ))}
        {pictures.length === 0 && (
          <li className="quiet">None yet. Save the insets of a source by name on the Footage screen.</li>
        )}
      </ul>
      <For may="house">
        <div className="tool-row">
          <Form.Control
            size="sm"
            className="num"
            aria-label="Ratio of a new guide"
            placeholder="4:3"
            value={guide}
            onChange={(event) => setGuide(event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && add()}
          />
          <Button size="sm" disabled={guide.trim() === ""} aria-disabled={pending} onClick={add}>
            Save guide
          </Button>
        </div>
      </For>
    </div>
  );
}
