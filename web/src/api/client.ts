import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];

export type Orientation = Schemas["Orientation"];
export type SphereForm = Schemas["SphereForm"];
export type OnSphere = Schemas["OnSphere"];
export type LevelFound = Schemas["LevelFound"];
export type Project = Schemas["Project"];
export type Source = Schemas["Source"];
export type BordersFound = Schemas["BordersFound"];
export type SourceValues = Schemas["SourceValues"];
export type SourceShape = Schemas["SourceShape"];
export type Frame = Schemas["Frame"];
export type FrameValues = Schemas["FrameValues"];
export type FrameShape = Schemas["FrameShape"];
export type Board = Schemas["Board"];
export type Crossing = Schemas["Crossing"];
export type Conversion = Schemas["Conversion"];
export type FramingValues = Schemas["FramingChoice"];
export type Method = Schemas["PlacingName"];
export type ChoiceSet = Schemas["ChoiceSet"];
export type PreviewRequest = Schemas["PreviewRequest"];
export type Entry = Schemas["EntryRequest"];
export type Rest = Schemas["Rest"];
export type Proposal = Schemas["ProposalResult"];
export type RoundingCost = Schemas["RoundingCostResult"];
export type JudgedFinding = Schemas["JudgedFinding"];
export type Subject = Schemas["SubjectBox"];
export type Ways = Schemas["WaysResult"];
export type Speaker = Schemas["SpeakerName"];
export type Cadence = Schemas["CadenceSummary"];
export type Edit = Schemas["EditRequest"];
export type EditResult = Schemas["EditResult"];
export type SourceSet = Schemas["SourceSet"];
export type FrameSet = Schemas["FrameSet"];
export type FramingSet = Schemas["FramingSet"];
export type HistoryHead = Schemas["HistoryHead"];
export type History = Schemas["History"];
export type BinGroup = Schemas["BinGroup"];
export type Library = Schemas["Library"];
export type HouseFrame = Schemas["HouseFrameResource"];
export type ActivePictureValues = Schemas["ActivePictureValues"];
export type ListReading = Schemas["ListReading"];
export type ListRow = Schemas["ListRow"];
export type Role = Schemas["Role"];
export type Severity = Schemas["SeverityName"];
export type Common = Schemas["CommonResult"];
export type Exact = Schemas["ExactNumber"];
export type Extraction = Schemas["ExtractionResult"];
export type Point = Schemas["Point"];
export type PointRemedy = Schemas["PointRemedyResult"];
export type TypingProfile = Schemas["TypingProfile"];
export type HouseProfile = Schemas["HouseProfileResource"];
export type Resampling = Schemas["Resampling"];
export type Proof = Schemas["OutcomeVariant"];
export type Readings = Schemas["Readings"];
export type ProofState = Schemas["ProofState"];
export type ToType = Schemas["TypingResult"];
export type Problem = Schemas["Problem"];

/** How long an answer may take; a large list to be read takes the longest. */
const TIME_LIMIT = 60_000;

/** Who wants to know when a request finds nobody logged in. */
const concerned = new Set<() => void>();

export function onLoggedOut(tell: () => void): () => void {
  concerned.add(tell);
  return () => concerned.delete(tell);
}

export const api = createClient<paths>({
  fetch: async (request) => {
    const answer = await fetch(request, {
      signal: AbortSignal.any([request.signal, AbortSignal.timeout(TIME_LIMIT)]),
    });
    // A wrong password is not that.
    const asked = new URL(request.url).pathname;
    if (answer.status === 401 && !asked.startsWith("/api/v1/session")) for (const tell of concerned) tell();
    return answer;
  },
});

/** A request that the server refused, with its reasons. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

interface Answer<T> {
  data?: T | undefined;
  error?: unknown | undefined;
}

/** The data of an answer; a refusal is thrown. */
export async function settled<T>(answer: Promise<Answer<T>>): Promise<T> {
  const { data, error } = await answer;
  if (error !== undefined) throw new Refused(error as Problem);
  return data as T;
}

/** What a draft amounts to, or why it is refused. Never both. */
export type Preview<T> = { sound: true; value: T } | { sound: false; problem: Problem };

/** The answer to a draft: a refusal is a result here, not a failure. */
export async function preview<T>(answer: Promise<Answer<T>>): Promise<Preview<T>> {
  try {
    return { sound: true, value: await settled(answer) };
  } catch (error) {
    if (error instanceof Refused) return { sound: false, problem: error.problem };
    throw error;
  }
}

/** What is accepted at a pointer of a refused draft, if that is what was refused. */
export function wrongAt(problem: Problem | undefined, ...pointers: string[]): string | undefined {
  return problem?.errors?.find((error) => pointers.includes(error.pointer))?.detail;
}

/** What is accepted of the first part of a list that was refused. */
export function within(problem: Problem | undefined, pointer: string): string | undefined {
  return problem?.errors?.find(
    (error) => error.pointer === pointer || error.pointer.startsWith(`${pointer}/`),
  )?.detail;
}
