/** What became of recordings that were to be taken into the Library. */
import type { Doubt } from '@glimbo/media/probe';

export type GatherResult =
  | { footageId: string; name: string }
  | { problem: string }
  | { known: string }
  | { doubts: Doubt[]; name: string }
  /** Two files are named like a pair of lenses; somebody has to say whether they are. */
  | { pair: string; name: string };

/** What somebody said two files are that are named like a pair. */
export type PairChoice = 'lenses' | 'apart' | null;

/** What becomes of a path: a result, or for a folder the job that looks through it and how many recordings it will look at. */
export type PathResult = (GatherResult & { path: string })[] | { job: string; recordings: number };

export interface Unfinished {
  id: string;
  name: string;
  size: number;
  sent: number;
}

/** What was found, recording by recording, as far as the user has to hear of it; and how many were added. */
export interface ExamineResult {
  added: number;
  results: (GatherResult & { path: string })[];
}
