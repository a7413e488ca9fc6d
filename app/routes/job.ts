/** One job: cancelling it, doing it again, removing it; and what it has found. */
import type { LoaderFunctionArgs } from 'react-router';
import { findJob } from '~/db/jobs';
import { queue } from '~/queue/queue';
import { answered, readForm, Refusal } from '~/server/answer';

const GONE = 'That work is not known any more.';

export async function loader({ params }: LoaderFunctionArgs) {
  const job = await findJob(params.jobId!);
  if (!job) return Response.json({ problem: GONE }, { status: 404 });
  const { id, kind, state, progress, error, result } = job;
  return Response.json({ id, kind, state, progress, error, result });
}

export const action = answered(async ({ request, params }) => {
  const job = await findJob(params.jobId!);
  if (!job) throw new Refusal(GONE, 404);
  switch ((await readForm(request)).get('intent')) {
    case 'cancel':
      await queue().cancel(job.id);
      return {};
    case 'ahead':
      await queue().ahead(job.id);
      return {};
    case 'again':
      await queue().repeat(job.id);
      return {};
    case 'remove':
      await queue().remove(job.id);
      return {};
  }
  throw new Refusal('That is not known here.', 400);
});
