/** Looks at one recording on a card; asked for by its tile, so that the page does not wait for all of them. */
import type { LoaderFunctionArgs } from 'react-router';
import { lookAt } from '~/gathering/card';

export async function loader({ request }: LoaderFunctionArgs) {
  const query = new URL(request.url).searchParams;
  return Response.json(await lookAt(query.get('folder') ?? '', query.get('name') ?? ''));
}
