import createClient from "openapi-fetch";
import type { components, paths } from "./generated/schema";

export type Show = components["schemas"]["ShowDocument"];
export type Source = components["schemas"]["Source"];
export type Mix = components["schemas"]["Mix"];
export type Send = components["schemas"]["Send"];
export type Cable = components["schemas"]["Cable"];
export type CableFeed = components["schemas"]["CableFeed"];
export type Finding = components["schemas"]["FindingReport"];
export type Card = components["schemas"]["CardReport"];
export type CardPick = components["schemas"]["PickReport"];
export type PathMap = components["schemas"]["MapDocument"];
export type Watched = components["schemas"]["PromiseReport"];
export type Verdict = components["schemas"]["VerdictReport"];
export type ShowPromise = components["schemas"]["Promise"];
export type PromiseBreak = components["schemas"]["PromiseBreak"];
export type Promises = components["schemas"]["PromisesDocument"];
export type Hop = components["schemas"]["HopReport"];
export type TracedWay = components["schemas"]["WayReport"];
export type Gain = components["schemas"]["Gain"];
export type Gear = components["schemas"]["GearDocument"];
export type GearHistoryLine = components["schemas"]["GearHistoryLine"];
export type GearApp = components["schemas"]["AppReport"];
export type GearPort = components["schemas"]["PortReport"];
export type GearDevice = components["schemas"]["Device"];
export type GearEnd = components["schemas"]["EndReport"];
export type GearRole = components["schemas"]["RoleReport"];
export type Unmet = components["schemas"]["Unmet"];
export type EndChoice = components["schemas"]["EndChoice"];
export type SourceInput = components["schemas"]["SourceInput"];
export type Destination = components["schemas"]["Destination"];
export type Job = components["schemas"]["Job"];
export type Take = components["schemas"]["TakeDocument"];
export type AirStream = components["schemas"]["Broadcast"];
export type Air = components["schemas"]["AirDocument"];
export type AirCheck = components["schemas"]["AirCheck"];
export type AirState = components["schemas"]["AirState"];
export type ServerKind = components["schemas"]["ServerKind"];
export type StreamForm = components["schemas"]["StreamForm"];
export type StreamChange = components["schemas"]["StreamChange"];
export type Address = components["schemas"]["AddressDocument"];
export type Track = components["schemas"]["TrackDocument"];
export type PlannedTrack = components["schemas"]["PlannedTrack"];
export type TakePlan = components["schemas"]["TakePlanDocument"];
export type TakeForm = components["schemas"]["TakeForm"];
export type TrackRemark = components["schemas"]["TrackRemark"];
export type Microphone = components["schemas"]["MicrophoneDocument"];
export type NewMicrophone = components["schemas"]["NewMicrophone"];
export type HistoryLine = components["schemas"]["HistoryLine"];
export type ShowListItem = components["schemas"]["ShowListItem"];
export type TrimAdvice = components["schemas"]["TrimAdvice"];
export type NewSource = components["schemas"]["NewSource"];
export type NewMix = components["schemas"]["NewMix"];
export type Processor = components["schemas"]["Processor"];
export type Loop = components["schemas"]["LoopDocument"];
export type Variant = components["schemas"]["VariantDocument"];
export type VariantMeasures = components["schemas"]["MeasuresDocument"];
export type SoundPicture = components["schemas"]["SoundPicture"];
export type BlindResult = components["schemas"]["BlindResult"];
export type CleanUpAnswer = components["schemas"]["CleanUpAnswer"];
export type OnAirComparison = components["schemas"]["OnAirDocument"];
export type OwnPreset = components["schemas"]["OwnPreset"];
export type ChainPreset = components["schemas"]["ChainPreset"];
export type ProcessorType = components["schemas"]["ProcessorType"];
export type PictureAnswer = components["schemas"]["PictureAnswer"];
export type ProcessorCurve = components["schemas"]["ProcessorCurve"];
export type PlainControl = components["schemas"]["PlainControl"];
export type OrderNote = components["schemas"]["OrderNote"];
export type Parameter = components["schemas"]["Parameter"];
export type PadSet = components["schemas"]["PadSet"];
export type Pad = components["schemas"]["Pad"];
export type StoredSound = components["schemas"]["PadSoundDocument"];
export type Cue = components["schemas"]["Cue"];
export type CueAct = components["schemas"]["CueAct"];
export type CueRun = components["schemas"]["CuesDocument"];
export type PadLoudness = components["schemas"]["PadLoudnessDocument"];
export type Status = components["schemas"]["ServerStatus"];

/** The server's API, with the types of its OpenAPI document. */
export const api = createClient<paths>({ baseUrl: window.location.origin });

/** Goes with every change: it reaches the server even if the page is closed in that moment. */
export const lasting = { keepalive: true } as const;

/** One thing that is wrong with a request: where, what, and what is allowed. */
export interface Wrong {
  where: string;
  what: string;
  allowed: string;
}

/** An answer that is not what was asked for, in words for a person. */
export class Refusal extends Error {
  readonly status: number;
  readonly problems: Wrong[];

  /** With a conflict: the show as it is now. */
  readonly current: Show | null;

  /** With a conflict: the step that came between. */
  readonly step: HistoryLine | null;

  /** True where somebody else has changed the same since: both values can be told. */
  readonly isStale: boolean;

  constructor(
    status: number,
    problems: Wrong[],
    conflict: { current?: Show; step?: HistoryLine | null; yours?: unknown } = {},
  ) {
    super(problems.map((p) => p.what).join(" "));
    this.status = status;
    this.problems = problems;
    this.current = conflict.current ?? null;
    this.step = conflict.step ?? null;
    this.isStale = status === 409 && conflict.yours !== undefined;
  }
}

const unreachable: Wrong = {
  where: "server",
  what: "The server does not answer.",
  allowed: "the same again once it is back",
};

/** Turns an answer of the client's into its data, or throws a Refusal. */
export async function answer<T>(request: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let result: { data?: T; error?: unknown; response: Response };
  try {
    result = await request;
  } catch {
    throw new Refusal(0, [unreachable]);
  }
  if (result.error !== undefined || !result.response.ok) {
    throw new Refusal(
      result.response.status,
      problemsOf(result.error),
      (result.error ?? {}) as { current?: Show; step?: HistoryLine | null; yours?: unknown },
    );
  }
  return result.data as T;
}

function problemsOf(error: unknown): Wrong[] {
  const problems = (error as { problems?: Wrong[] } | undefined)?.problems;
  return Array.isArray(problems) && problems.length > 0
    ? problems
    : [{ where: "server", what: "The server's answer cannot be understood.", allowed: "trying again" }];
}
