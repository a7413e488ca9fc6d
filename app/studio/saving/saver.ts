/**
 * Keeps the server's copy of a document's history in step with the page's. Every save has an identity, so that one whose
 * answer was lost is recognised when it is sent again; everything that is not known to be kept lies in a draft.
 */
import type { History } from '@glimbo/core/document/history';
import { difference, type Change } from '@glimbo/core/document/change';
import type { DraftStore } from './draft-store';
import { draftOf, type Kept } from './drafts';
import type { SaveState } from '../state/save-state';

const DELAY = 300;
const RETRY = 2500;
/** Milliseconds in which the changes of one gesture are joined before they are written into the draft. */
const DRAFT_DELAY = 250;

interface Pending<T> {
  id: string;
  revision: number;
  change: Change;
  history: History<T>;
}

export interface SaveAnswer {
  revision?: number;
  problem?: string;
  /** With a conflict: the save that was there first. */
  lastSave?: string | null;
}

export interface SaverOptions<T> {
  /** What drafts of the document are kept under. */
  document: string;
  session: string;
  kept: Kept<T>;
  /** The history as it is now. */
  now(): History<T>;
  tell(state: SaveState): void;
  /** Whether what is not saved lies in the browser's storage, when that has become known. */
  drafted(kept: boolean): void;
  send(body: object, leaving: boolean): Promise<{ status: number; body: SaveAnswer | null }>;
  drafts: DraftStore<T>;
  newId(): string;
}

export class Saver<T extends object> {
  private known: { revision: number; history: History<T> };
  private pending: Pending<T> | null = null;
  private sending = false;
  private state: SaveState = { kind: 'saved' };
  private timer: ReturnType<typeof setTimeout> | undefined;
  private draftTimer: ReturnType<typeof setTimeout> | undefined;
  private forgotten = false;
  private draftFailed = false;
  /** Number of steps and the present one when the history was looked at last. */
  private place = '';
  /** Saves that were sent and never answered: the server may take one of them at any time. */
  private readonly uncertain = new Set<string>();

  constructor(private readonly options: SaverOptions<T>) {
    const { history, revision, uncertain } = options.kept;
    if (uncertain) this.uncertain.add(uncertain);
    this.known = { history, revision };
    if (this.dirty) this.changed();
  }

  private get dirty() {
    return this.options.now() !== this.known.history;
  }

  private get stopped() {
    return this.state.kind === 'conflict';
  }

  private tell(state: SaveState) {
    this.state = state;
    this.options.tell(state);
  }

  /** To be called when the history has become another. */
  changed() {
    // A new step is kept at once; the many small changes of one gesture a few times a second.
    const { steps, at } = this.options.now();
    const place = `${steps.length} ${at}`;
    if (place !== this.place) this.keepDraft();
    else this.draftTimer ??= setTimeout(() => this.keepDraft(), DRAFT_DELAY);
    this.place = place;
    if (this.stopped) return;
    if (this.state.kind !== 'offline') this.tell({ kind: 'unsaved' });
    this.plan(DELAY);
  }

  private plan(delay: number) {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.save(), delay);
  }

  /** Writes what the server is not known to have into the browser's storage; or drops the draft if it has everything. */
  private keepDraft() {
    clearTimeout(this.draftTimer);
    this.draftTimer = undefined;
    const { document, session, drafts, now, drafted } = this.options;
    if (!this.dirty || this.forgotten) {
      this.draftFailed = false;
      return void drafts.drop(document, session);
    }
    const { revision, history } = this.known;
    const pending = this.pending?.id ?? [...this.uncertain].at(-1) ?? null;
    void drafts
      .keep(document, draftOf(history, now(), { session, revision, pending, when: Date.now() }))
      .then((kept) => {
        this.draftFailed = !kept;
        drafted(kept);
      });
  }

  /** Whether leaving the page now would lose something: it is neither saved nor in the browser's storage. */
  get atRisk() {
    return this.dirty && !this.forgotten && this.draftFailed;
  }

  private async save(): Promise<void> {
    if (this.sending || this.stopped || !(this.dirty || this.pending)) return;
    this.sending = true;
    const { now, send, newId } = this.options;
    // What was sent and not answered is sent again as it was: the server may have it already.
    const pending = (this.pending ??= {
      id: newId(),
      revision: this.known.revision,
      change: difference(this.known.history, now()),
      history: now(),
    });
    this.uncertain.add(pending.id);
    this.keepDraft();
    this.tell({ kind: 'saving' });
    try {
      const { status, body } = await send(
        { intent: 'save', id: pending.id, revision: pending.revision, change: pending.change },
        false,
      );
      this.answered(pending, status, body);
    } catch {
      this.again(null);
    } finally {
      this.sending = false;
    }
    if (this.state.kind === 'unsaved') this.plan(DELAY);
  }

  private again(sentence: string | null) {
    this.tell({ kind: 'offline', sentence });
    this.plan(RETRY);
  }

  private answered(pending: Pending<T>, status: number, body: SaveAnswer | null) {
    const sentence = body?.problem ?? null;
    if (status === 200 && body?.revision !== undefined) {
      this.known = { revision: body.revision, history: pending.history };
      this.pending = null;
      this.uncertain.clear();
      this.keepDraft();
      return this.tell({ kind: this.dirty ? 'unsaved' : 'saved' });
    }
    if (status === 409 && body?.revision !== undefined && body.lastSave && this.uncertain.has(body.lastSave)) {
      // It was our own save from before that came first: what is changed since goes on top of it.
      this.known = { revision: body.revision, history: this.known.history };
      this.pending = null;
      return this.tell({ kind: 'unsaved' });
    }
    const conflict = ({ 409: 'other', 410: 'deleted', 404: 'gone' } as const)[status];
    if (conflict) {
      this.pending = null;
      this.keepDraft();
      return this.tell({ kind: 'conflict', why: conflict, sentence: sentence ?? '', since: Date.now() });
    }
    if (status === 400 || status === 413 || status === 422) {
      // The same would be refused again: what is changed next is sent together with it.
      this.pending = null;
      this.keepDraft();
      return this.tell({ kind: 'refused', sentence: sentence ?? 'The server did not take this change.' });
    }
    this.again(sentence);
  }

  /** What was changed here is not wanted any more, or is kept elsewhere: neither saved nor kept in a draft from here on. */
  forget() {
    this.forgotten = true;
    this.keepDraft();
  }

  /** The page goes away: what is not kept yet is sent once more and lies in the draft. */
  leave() {
    this.keepDraft();
    if (!this.dirty || this.stopped || this.forgotten) return;
    const { id, revision, change } = this.pending ?? {
      id: this.options.newId(),
      revision: this.known.revision,
      change: difference(this.known.history, this.options.now()),
    };
    this.pending ??= { id, revision, change, history: this.options.now() };
    this.uncertain.add(id);
    this.keepDraft();
    this.options.send({ intent: 'save', id, revision, change }, true).catch(() => {});
  }

  stop() {
    clearTimeout(this.timer);
    clearTimeout(this.draftTimer);
    this.draftTimer = undefined;
    this.leave();
  }
}
