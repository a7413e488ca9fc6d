/** Where in time one is: the playhead, the part that the Score shows, and how it plays. Seconds of the footage. */
import { snap } from '@glimbo/core/path/edit';
import type { Slice, Span, TimeSlice } from './state';

/** Frames that are in sight at the closest zoom. */
const CLOSEST = 8;

export const timeSlice =
  (start: number, duration: number): Slice<TimeSlice> =>
  (set, get) => {
    const within = (time: number) => {
      const { rate, duration } = get().footage.facts;
      return Math.max(0, Math.min(duration - 1 / rate, snap(time, rate)));
    };
    return {
      time: start,
      span: { from: 0, to: duration },
      speed: 0,
      loop: true,

      setTime(time) {
        const at = within(time);
        if (at === get().time) return;
        const span = moved(get().span, at, get().footage.facts.duration);
        set({ time: at, gesture: null, glance: null, compare: null, span });
      },
      follow(time) {
        const at = within(time);
        if (at !== get().time) set({ time: at, glance: null, compare: null });
      },
      showSpan: (span) => set({ span }),
      zoomTime(factor, about = get().time) {
        const { span, footage } = get();
        const { rate, duration } = footage.facts;
        const length = Math.min(duration, Math.max(CLOSEST / rate, (span.to - span.from) * factor));
        const share = (about - span.from) / (span.to - span.from);
        const from = Math.max(0, Math.min(duration - length, about - share * length));
        set({ span: { from, to: from + length } });
      },
      setSpeed: (speed) => set({ speed }),
      setLoop: (loop) => set({ loop }),
    };
  };

/** Moves the shown part so that a time stays in it. */
function moved(span: Span, time: number, duration: number): Span {
  const length = span.to - span.from;
  if (time >= span.from && time <= span.to) return span;
  const from = Math.max(0, Math.min(duration - length, time - length / 2));
  return { from, to: from + length };
}
