/** Keeps the tracks of all subjects that are being followed; shows nothing by itself. */
import { useWork } from '../state/work';
import type { Job } from '~/model/job';
import { useGrowingTrack } from './growing';

export function GrowingTracks() {
  const { following } = useWork();
  return following.map((job) => <Growing key={job.id} job={job} subject={String(job.params.subject)} />);
}

function Growing({ job, subject }: { job: Job; subject: string }) {
  useGrowingTrack(job, subject);
  return null;
}
