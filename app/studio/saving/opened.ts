/** What the Studio was opened with. */
import type { Take } from '@glimbo/core/take/take';
import type { TakeRecord } from '~/model/take';
import type { Draft, Kept } from './drafts';

export interface StudioOpened {
  record: TakeRecord;
  /** What the server had when the Studio was opened, and what from before does not fit it. */
  kept: Kept<Take>;
  drafts: Draft<Take>[];
}
