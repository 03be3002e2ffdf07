import { useState } from "react";
import { Button } from "react-bootstrap";
import { api, type HouseProfile, type Library, settled } from "../../api/client";
import { useNotices } from "../../notices/notices";
import { For } from "../../people/may";
import { ProfileSheet } from "../../typing/ProfileSheet";
import { profileText } from "../../typing/profiles";
import { useOnce } from "../../writes/useOnce";

interface Props {
  library?: Library | undefined;
  onChange: () => void;
}

/** The typing profiles of the house: what the programs of its people ask for. */
export function Profiles({ library, onChange }: Props) {
  const { tell, tellFailure } = useNotices();
  const [asking, setAsking] = useState<HouseProfile | "new" | null>(null);
  const { run: remove } = useOnce(async ({ id, version, values }: HouseProfile) => {
    try {
      await settled(
        api.DELETE("/api/v1/library/profiles/{profile}", {
          params: { path: { profile: id }, header: { "If-Match": `"${version}"` } },
        }),
      );
      tell(`“${values.name}” removed from the library.`);
    } catch (failure) {
      tellFailure("Not removed", failure);
    }
    onChange();
  });
  const profiles = library?.profiles ?? [];
  return (
    <div className="tools">
      <ul className="plain">
        {profiles.map((each) => (
          <li key={each.id}>
            <span>
              {each.values.name} <small className="quiet">{profileText(each.values.profile)}</small>
            </span>
            <For may="house">
              <Button
                size="sm"
                variant="plain"
                aria-label={`Change ${each.values.name}`}
                onClick={() => setAsking(each)}
              >
                Change
              </Button>
              <Button
                size="sm"
                variant="plain"
                aria-label={`Remove ${each.values.name} from the library`}
                onClick={() => remove(each)}
              >
                Remove
              </Button>
            </For>
          </li>
        ))}
        {profiles.length === 0 && <li className="quiet">None yet: what does your program ask for?</li>}
      </ul>
      <For may="house">
        <div className="tool-row">
          <Button size="sm" onClick={() => setAsking("new")}>
            New profile
          </Button>
        </div>
      </For>
      {asking && (
        <ProfileSheet
          profile={asking === "new" ? undefined : asking}
          onHide={() => setAsking(null)}
          onSaved={onChange}
        />
      )}
    </div>
  );
}
