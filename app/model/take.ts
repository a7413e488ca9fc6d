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

/** A take as it is offered to be chosen. */
export interface TakeChoice {
  id: string;
  name: string;
  projectName: string;
  footageName: string;
}
