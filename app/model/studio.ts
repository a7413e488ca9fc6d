/** What the Studio is loaded with: the take once, and the work on it and its footage as often as something happens to that. */
import type { PackedHistory } from '@glimbo/core/document/change';
import type { SizeRatios } from '@glimbo/core/export/estimate';
import type { Footage } from './footage';
import type { Job } from './job';
import type { Subject } from './subject';
import type { TakeRecord } from './take';

export interface StudioData {
  record: TakeRecord;
  history: PackedHistory;
  footage: Footage;
}

export interface StudioWork {
  footage: Footage;
  /** The exports of the take, the newest first. */
  exports: Job[];
  /** What clips came out as, over what was guessed. */
  ratios: SizeRatios;
  /** The footage's last gathering and motion analysis, whatever became of them. */
  gathering: Job | null;
  analysing: Job | null;
  /** What is followed in the footage, and the work on that. */
  subjects: Subject[];
  following: Job[];
  /** When what was found in the footage was looked for, in milliseconds; null where it was not. And the last work on that. */
  found: number | null;
  finding: Job | null;
  /** Whether there is a motion sidecar. */
  sidecar: boolean;
}
