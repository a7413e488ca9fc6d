/** One thing that was found: what it looks like, when and how large it is seen, and taking it. */
import { clock } from '~/ui/format';
import { sheetTint } from '../tints';
import { useClock, useStudio, useStudioStore } from '../../state/store';
import { kindInWords, type Candidate } from './candidates';

interface CandidateRowProps {
  candidate: Candidate;
  chosen: boolean;
  onChoose: (chosen: boolean) => void;
  onTake: () => void;
}

/** Seconds below which it was recognised in one look, and nobody knows for how long it is seen. */
const MOMENT = 0.5;

export function CandidateRow({ candidate, chosen, onChoose, onTake }: CandidateRowProps) {
  const store = useStudioStore();
  const times = useClock();
  const rate = useStudio((s) => s.footage.facts.rate);
  const { streak, kind, subject, portrait, size, look } = candidate;
  const name = `${kindInWords(kind)} at ${clock(times.shown(candidate.in), 0)}`;
  const mean = (on: boolean) => store.getState().mean(on ? streak : null);
  return (
    <li
      className="flex items-center gap-1.5 px-1.5 py-0.5 hover:bg-paper"
      onPointerEnter={() => mean(true)}
      onPointerLeave={() => mean(false)}
      onFocus={() => mean(true)}
      onBlur={() => mean(false)}
    >
      <input
        type="checkbox"
        aria-label={`Choose ${name}`}
        className="flex-none"
        checked={chosen && !subject}
        disabled={subject !== null}
        onChange={(e) => onChoose(e.target.checked)}
      />
      <button
        className="size-9 flex-none overflow-hidden border border-edge bg-well"
        aria-label={`Go to ${name}`}
        title="Go to where it is seen well"
        onClick={() => store.getState().setTime(look[0] / rate)}
      >
        {portrait && <img src={portrait} alt="" className="size-full object-cover" data-testid="candidate-picture" />}
      </button>
      <span className="min-w-0 flex-1 leading-tight">
        <span className="block truncate">
          {kindInWords(kind)}, <span className="figure">{Math.round(size)}°</span>
        </span>
        <span className="figure block truncate text-muted" title="When it is seen first, and for how long">
          {clock(times.shown(candidate.in), 0)}
          {candidate.out - candidate.in >= MOMENT && `, ${(candidate.out - candidate.in).toFixed(1)} s`}
        </span>
      </span>
      {subject ? (
        <span className="truncate" style={{ color: sheetTint(subject.tint) }}>
          is {subject.name}
        </span>
      ) : (
        <button className="button h-6!" aria-label={`Take ${name}`} onClick={onTake}>
          Take
        </button>
      )}
    </li>
  );
}
