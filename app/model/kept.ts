/** What somebody keeps for later, as interface and server share it. */
import type { Kept } from '@glimbo/core/moves/kept';

export interface KeptItem {
  id: string;
  document: Kept;
}
