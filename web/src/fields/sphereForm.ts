import type { SphereForm } from "../api/client";

/** How a sphere lies in its frame, as one text: span, layout, and which eye comes first. */
export function formText(form: SphereForm): string {
  return `${form.span[0]}x${form.span[1]} ${form.layout} ${form.eyes}`;
}

/** The form of such a text; what is not understood is left for the server to refuse. */
export function formOf(text: string): SphereForm {
  const [span = "", layout = "mono", eyes = "left_first"] = text.trim().split(/\s+/);
  const [across = "", up = ""] = span.split(/[x×/]/);
  return { span: [across, up], layout, eyes } as SphereForm;
}

export const FULL_SPHERE = "360x180 mono left_first";

/** The usual forms, each with its name. */
export const FORMS = [
  [FULL_SPHERE, "full"],
  ["360x180 top_bottom left_first", "full, left eye above"],
  ["360x180 top_bottom right_first", "full, right eye above"],
  ["360x180 side_by_side left_first", "full, left eye left"],
  ["360x180 side_by_side right_first", "full, right eye left"],
  ["180x180 mono left_first", "half"],
  ["180x180 side_by_side left_first", "half, left eye left"],
  ["180x180 side_by_side right_first", "half, right eye left"],
] as const;

/** The forms to choose from, with one of its own span among them. */
export function formsWith(text: string): readonly (readonly [string, string])[] {
  if (FORMS.some(([known]) => known === text)) return FORMS;
  const { layout, eyes, span } = formOf(text);
  const like = FORMS.find(([known]) => known === `360x180 ${layout} ${eyes}`)?.[1] ?? "full";
  return [...FORMS, [text, like.replace("full", `${span[0]}° × ${span[1]}°`)]];
}
