/** Performing: the view is steered by pointer, keys or gamepad while it plays, and what was steered becomes a tried path. */
import { clearFollows } from '@glimbo/core/edit/follows';
import { softTrack } from '@glimbo/core/follow/following';
import {
  carriedView,
  carriedWith,
  NOT_CARRIED,
  perform,
  pushed,
  type Carried,
  type Push,
} from '@glimbo/core/path/perform';
import { widened } from '@glimbo/core/lens/projection';
import type { Sample } from '@glimbo/core/path/simplify';
import type { View } from '@glimbo/core/lens/view';
import { followInForce } from '@glimbo/core/edit/dial';
import { subjectOf } from '~/model/subject';
import type { StudioState } from '../state/state';
import type { StudioStore } from '../state/store';

/** Keys that steer while they are held, and what they push. */
const KEYS: Record<string, Partial<Push>> = {
  a: { pan: -1 },
  d: { pan: 1 },
  w: { tilt: 1 },
  s: { tilt: -1 },
  q: { roll: -1 },
  e: { roll: 1 },
  '+': { zoom: 1 },
  '-': { zoom: -1 },
};
/** Seconds in which a key's push comes to its full strength. */
const RISE = 0.25;
/** How far a stick may lie off its middle without pushing. */
const LOOSE = 0.12;
/** Seconds that are counted down: a bar at 120 beats a minute. */
const BAR = 2;

/** Seconds that a player may begin before the playhead. */
const BACK = 0.25;

const stick = (v = 0) => (Math.abs(v) < LOOSE ? 0 : v * Math.abs(v));

/** What connected gamepads push: left stick aims, right stick rolls and zooms. */
function gamepadPush(): Push {
  const [pad] = navigator.getGamepads?.().filter((p) => p?.connected) ?? [];
  const [x, y, x2, y2] = pad?.axes ?? [];
  return { pan: stick(x), tilt: -stick(y), roll: stick(x2), zoom: -stick(y2) };
}

/** One performance, from the countdown until it is stopped. */
export class Performance {
  private readonly held = new Map<string, number>();
  private readonly samples: Sample[] = [];
  /** What is steered, without what it is carried along by; and how far it was carried when the pointer went down. */
  private view: View;
  private pressed = NOT_CARRIED;
  private last = performance.now();
  private frame = 0;
  private ended = false;
  private readonly forget: () => void;

  constructor(
    private readonly store: StudioStore,
    private readonly play: () => void,
    private readonly stopPlaying: () => void,
    private readonly onEnd: (samples: Sample[]) => void,
    /** By what it is carried along besides: a subject's way. */
    private readonly carried: Carried = () => NOT_CARRIED,
  ) {
    const { view, takeSteering } = store.getState();
    this.view = view();
    takeSteering((change) => this.take(change));
    window.addEventListener('pointerdown', this.press, true);
    window.addEventListener('keydown', this.down, true);
    window.addEventListener('keyup', this.up, true);
    this.forget = store.subscribe((now, before) => now.time !== before.time && this.sample(now.time));
    void this.count();
  }

  private async count() {
    for (let left = 4; left > 0; left--) {
      if (this.ended) return;
      this.store.getState().showPerforming({ count: left });
      await new Promise((resolve) => setTimeout(resolve, (BAR / 4) * 1000));
    }
    if (this.ended) return;
    this.store.getState().showPerforming({ count: 0 });
    this.sample(this.store.getState().time);
    this.last = performance.now();
    this.steer();
    this.play();
  }

  private readonly down = (e: KeyboardEvent) => {
    if (e.key === 'Escape' || e.key === 'Enter' || e.key === ' ') {
      e.preventDefault();
      e.stopImmediatePropagation();
      return this.stop();
    }
    const key = e.key.toLowerCase();
    if (!(key in KEYS) || e.ctrlKey || e.metaKey) return;
    e.preventDefault();
    e.stopImmediatePropagation();
    if (!this.held.has(key)) this.held.set(key, performance.now());
  };
  private readonly press = () => void (this.pressed = this.carried(this.store.getState().time));
  /** A drag says where to look, reckoned from where the picture was when it began. */
  private take({ pan, tilt, fov, ...change }: Partial<View>) {
    this.view = { ...this.view, ...change };
    const { wider } = this.carried(this.store.getState().time);
    if (fov !== undefined) this.view.fov = widened({ ...this.view, fov }, 1 / wider);
    if (pan !== undefined) this.view.pan = pan - this.pressed.pan;
    if (tilt !== undefined) this.view.tilt = tilt - this.pressed.tilt;
  }
  private readonly up = (e: KeyboardEvent) => void this.held.delete(e.key.toLowerCase());

  private steer = () => {
    if (this.ended) return;
    const now = performance.now();
    const push = gamepadPush();
    for (const [key, since] of this.held)
      for (const [name, by] of Object.entries(KEYS[key]!))
        push[name as keyof Push] += by * Math.min(1, (now - since) / 1000 / RISE);
    this.view = pushed(this.view, push, Math.min(0.1, (now - this.last) / 1000));
    this.last = now;
    this.store.getState().tryLens(carriedView(this.view, this.carried(this.store.getState().time)));
    this.frame = requestAnimationFrame(this.steer);
  };

  private sample(time: number) {
    if (this.ended || this.store.getState().performing?.count !== 0) return;
    const last = this.samples.at(-1)?.time ?? -Infinity;
    const { range } = this.store.getState().take();
    // A loop begins again at the in point: that is the end of it. A frame or two back is only the player's start.
    if (time < last - BACK || time >= range.out - 1e-6) return this.stop();
    if (time <= last) return;
    const { pan, tilt, roll, fov, bend } = carriedView(this.view, this.carried(time));
    this.samples.push({ time, values: { pan, tilt, roll, fov, bend } });
  }

  stop() {
    if (this.ended) return;
    this.ended = true;
    cancelAnimationFrame(this.frame);
    this.forget();
    window.removeEventListener('keydown', this.down, true);
    window.removeEventListener('keyup', this.up, true);
    window.removeEventListener('pointerdown', this.press, true);
    this.stopPlaying();
    const { takeSteering, showPerforming, tryLens } = this.store.getState();
    takeSteering(null);
    showPerforming(null);
    tryLens(null);
    this.onEnd(this.samples);
  }
}

/** By which rule a take follows at the playhead. */
const ruleNow = ({ take, time }: StudioState) => take().follows?.[followInForce(take(), time)];

/** Whom the take follows at the playhead; null where nobody, or somebody who is not known. */
export function nameFollowed(state: StudioState): string | null {
  const rule = ruleNow(state);
  const id = rule && subjectOf(rule.subject);
  return state.subjects.find((s) => s.id === id && state.tracks.has(s.id))?.name ?? null;
}

/** The way of the subject that is followed at the playhead, from there on; null where none is. */
export function wayFollowed(state: StudioState): Carried | null {
  const rule = ruleNow(state);
  const track = rule && state.tracks.get(subjectOf(rule.subject))?.track;
  const soft = track && softTrack(track, rule, state.correction());
  return soft ? carriedWith(soft, state.time, rule.size !== undefined) : null;
}

/**
 * Has what was steered tried: as keyframes, smoothed and simplified; Follows give way to it. Gives how near they come; null when it was
 * too short.
 */
export function tryPerformed(store: StudioStore, samples: Sample[], how: { width: number; tolerance: number }) {
  const { take, footage, tryPath } = store.getState();
  const { rate } = footage.facts;
  const made = perform(take().path, samples, { ...how, rate });
  if (made) {
    const words = `${made.keys} keyframes, ${made.deviation.toFixed(1)}° from what was steered at most.`;
    const over = clearFollows(take(), samples[0]!.time, samples.at(-1)!.time);
    tryPath(made.path, words, take().follows ? over : undefined);
  }
  return made && { deviation: made.deviation, keys: made.keys };
}
