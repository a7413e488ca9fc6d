/** Following: the subjects of the footage, and how this take keeps them in frame. */
import { Crosshair } from 'lucide-react';
import { isWhole } from '~/model/footage';
import { useStudio, useStudioStore } from '../state/store';
import { useWork } from '../state/work';
import { Candidates, FindButton } from './found/FindSubjects';
import { FollowRules } from './FollowRules';
import { PointingWords } from './Proposed';
import { SubjectRow } from './SubjectRow';

export function FollowPart() {
  const store = useStudioStore();
  const pointing = useStudio((s) => s.pointingOut);
  const subjects = useStudio((s) => s.subjects);
  const offering = useStudio((s) => s.offering);
  const whole = isWhole(useWork().footage);
  return (
    <div className={`grid h-full divide-x divide-rule ${offering ? '' : 'grid-cols-2'}`}>
      <section className="overflow-auto px-3 py-1.5" aria-label="Subjects">
        <div className="flex flex-wrap gap-1.5">
          <button
            className="button h-6!"
            aria-pressed={pointing === 'new'}
            disabled={!whole}
            onClick={() => store.getState().pointOutSubject(pointing === 'new' ? 'nothing' : 'new')}
          >
            <Crosshair size={13} /> Point a subject out
          </button>
          <FindButton />
        </div>
        {pointing === 'new' && <PointingWords />}
        {!whole && (
          <p className="mt-1 text-muted">
            Subjects are looked for in the proxy, which is still being made. Once it is whole, point them out here.
          </p>
        )}
        {whole && subjects.length === 0 && pointing === 'nothing' && !offering && (
          <p className="mt-1 text-muted">
            Somebody or something that the camera keeps in frame, all round the sphere. Point it out where it is seen
            well, or have what moves found.
          </p>
        )}
        <Candidates />
        <ul className="mt-1 flex flex-col">
          {subjects.map((subject) => (
            <SubjectRow key={subject.id} subject={subject} />
          ))}
        </ul>
      </section>
      {!offering && <FollowRules />}
    </div>
  );
}
