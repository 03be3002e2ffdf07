import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { api, type Frame, preview, type Source, type ToType } from "../../api/client";
import { short } from "../../drawing/numbers";
import { copyText, Figure } from "../../fields/Figure";
import { Key, keysOf } from "../../keys/Key";
import { useNotices } from "../../notices/notices";
import { For } from "../../people/may";
import { tip } from "../../tip";
import { ProfileSheet } from "../../typing/ProfileSheet";
import { useProfiles } from "../../typing/profiles";
import { linesOf, reserveText, roundingText } from "../../typing/toType";
import type { Framing } from "./useFraming";

interface Props {
  source: Source;
  frame: Frame;
  framing: Framing;
  /** Whether every convention is shown, and switching that. */
  all: boolean;
  onAll: () => void;
}

/** How far a view may still be pushed in before the sphere behind it is enlarged; the view's own pixels are made of it. */
function sphereText({ shown }: Framing): string | undefined {
  const scale = shown.crossing.sphere_scale;
  if (scale === null || scale === undefined) return undefined;
  return scale > 1
    ? `No room to push in: the sphere is enlarged to ${short(scale * 100, 1)} % in the middle of the view.`
    : `${short(1 / scale, 2)}× until the sphere is enlarged in the middle of the view.`;
}

/** The few numbers that the person's own program asks for, in the order in which they are typed. */
export function TypeThis({ source, frame, framing, all, onAll }: Props) {
  const { tell } = useNotices();
  const { profiles, used, profile, choose } = useProfiles();
  const [asking, setAsking] = useState<"new" | "change" | null>(null);
  const request = {
    kind: "typing" as const,
    source: source.values.geometry,
    delivery: frame.values.geometry,
    framing: framing.shown.placed as never,
    profile,
  };
  const { data } = useQuery({
    queryKey: ["typing", request],
    queryFn: ({ signal }) => preview(api.POST("/api/v1/calc", { signal, body: request })),
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  });
  const typed = data?.sound && data.value.kind === "typing" ? (data.value as ToType) : undefined;
  const lines = typed ? linesOf(typed, profile) : [];
  const costs = typed && roundingText(typed, profile);
  const copyAll = async () => {
    const text = [framing.what, ...lines.map(({ name, shown }) => `${name}: ${shown}`)].join("\n");
    tell((await copyText(text)) ? "Numbers copied." : "The clipboard is not available here.");
  };
  return (
    <>
      <div className="sheet-head">
        <h2>Type this</h2>
        <div className="end">
          <Button size="sm" onClick={copyAll} {...tip("Copy all of it as text, cut and turn too")}>
            Copy all
          </Button>
          <Button
            size="sm"
            active={all}
            aria-pressed={all}
            onClick={onAll}
            {...tip("Every convention in which programs ask for it")}
            {...keysOf("conventions")}
          >
            All <Key of="conventions" />
          </Button>
        </div>
      </div>
      <div className="type-for">
        <label htmlFor="typing-profile">for</label>
        <Form.Select
          size="sm"
          id="typing-profile"
          aria-label="Typing profile"
          {...tip("What your program asks for")}
          value={used?.id ?? 0}
          onChange={(event) => {
            if (event.target.value === "new") setAsking("new");
            else choose(Number(event.target.value));
          }}
        >
          <option value={0}>usual</option>
          {profiles.map(({ id, values }) => (
            <option key={id} value={id}>
              {values.name}
            </option>
          ))}
          <For may="house">
            <option value="new">new profile …</option>
          </For>
        </Form.Select>
        {used && (
          <For may="house">
            <Button size="sm" onClick={() => setAsking("change")}>
              Change
            </Button>
          </For>
        )}
      </div>
      <div className="type-this" aria-live="off">
        {lines.map(({ name, shown, copies, hint }) => (
          <div key={name}>
            <span>
              {name}
              {hint && <small>{hint}</small>}
            </span>
            <Figure name={name} shown={shown} copies={copies} />
          </div>
        ))}
        {typed && (
          <p>
            {costs && <span className="cost cut">{costs} </span>}
            <span className="quiet">{sphereText(framing) ?? reserveText(typed)}</span>
          </p>
        )}
      </div>
      {asking && (
        <ProfileSheet
          profile={asking === "change" ? used : undefined}
          onHide={() => setAsking(null)}
          onSaved={choose}
        />
      )}
    </>
  );
}
