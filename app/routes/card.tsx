/** A camera card: what is on it, before anything is copied; and copying a selection of it. */
import { data, useLoaderData, type ActionFunctionArgs, type LoaderFunctionArgs } from 'react-router';
import { jobsOf } from '~/db/jobs';
import { CardView } from '~/library/CardView';
import { cardState, copyFromCard, ejectCard, insertCard } from '~/gathering/card';
import { handled, readForm, Refusal } from '~/server/answer';
import { PageHeader } from '~/ui/Header';

export async function loader({ request }: LoaderFunctionArgs) {
  const path = new URL(request.url).searchParams.get('path');
  const [card, copies] = await Promise.all([cardState(path), jobsOf({ kind: 'copy' }, 3)]);
  return { card, path, copies };
}

export const meta = () => [{ title: 'Card - Glimbo' }];

export const action = handled(async ({ request }: ActionFunctionArgs) => {
  const form = await readForm(request);
  switch (form.get('intent')) {
    case 'insert':
      await insertCard();
      return {};
    case 'eject':
      await ejectCard();
      return {};
    case 'copy': {
      const problem = await copyFromCard(
        String(form.get('folder')),
        form.getAll('recording').map(String),
        String(form.get('prefix') ?? '').slice(0, 60),
        String(form.get('tags') ?? '')
          .split(',')
          .map((t) => t.trim())
          .filter(Boolean),
      );
      return problem ? data({ problem }, { status: 422 }) : {};
    }
  }
  throw new Refusal('That is not known here.', 400);
});

export default function Card() {
  const loaded = useLoaderData<typeof loader>();
  return (
    <>
      <PageHeader />
      <CardView {...loaded} />
    </>
  );
}
