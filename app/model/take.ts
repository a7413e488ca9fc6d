/** A take as a row of the Library. */

export interface TakeRecord {
  id: string;
  projectId: string;
  projectName: string;
  footageId: string;
  name: string;
  revision: number;
  changed: number;
  favourite: boolean;
  /** Identity of the last save that was applied. */
  lastSave: string | null;
  deleted: boolean;
}
