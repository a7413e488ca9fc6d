/** How it stands with what was changed here. */
export type SaveState =
  | { kind: 'saved' | 'saving' | 'unsaved' }
  /** No answer, or none that helps; it is tried again. `sentence` is the server's, if it said one. */
  | { kind: 'offline'; sentence: string | null }
  /** The server will not have it as it is; the next change is tried again. */
  | { kind: 'refused'; sentence: string }
  /** Another tab saved first, or the document was deleted: somebody has to say what to do. */
  | { kind: 'conflict'; why: 'other' | 'deleted' | 'gone'; sentence: string; since: number };
