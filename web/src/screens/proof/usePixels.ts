import { useQueries } from "@tanstack/react-query";
import { Refused } from "../../api/client";
import { projectKey } from "../../api/queries";

/** The pixels of a picture, or why there are none. */
export interface Pixels {
  bitmap?: ImageBitmap | undefined;
  error?: Error | null | undefined;
}

async function load(href: string, signal: AbortSignal): Promise<ImageBitmap> {
  const answer = await fetch(href, { signal });
  if (!answer.ok) throw new Refused(await answer.json());
  // As they are: colours that a file describes are for the screen, not for proofs.
  return createImageBitmap(await answer.blob(), { colorSpaceConversion: "none" });
}

/** The pixels behind some addresses, each loaded once as long as the project does not change. */
export function usePixels(project: number, hrefs: (string | undefined)[]): Pixels[] {
  const found = useQueries({
    queries: hrefs.map((href) => ({
      queryKey: [...projectKey(project), "pixels", href],
      queryFn: ({ signal }: { signal: AbortSignal }) => load(href ?? "", signal),
      enabled: href !== undefined,
      retry: false,
      gcTime: 10_000,
      structuralSharing: false,
    })),
  });
  return found.map(({ data, error }) => ({ bitmap: data, error }));
}
