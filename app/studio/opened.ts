/** What the Studio was opened with. */
import type { TakeRecord } from '~/model/take';
import type { Draft, Kept } from './saving/drafts';

export interface StudioOpened {
  record: TakeRecord;
  /** What the server had when the Studio was opened, and what from before does not fit it. */
  kept: Kept;
  drafts: Draft[];
}
