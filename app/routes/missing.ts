/** Which of some footage (`of`, ids with commas between) has an original that is not where it was. */
import type { LoaderFunctionArgs } from 'react-router';
import { footageOf } from '~/db/footage';
import { missingOriginals } from '~/server/upkeep';

/** More than any screen shows at once. */
const MOST = 400;

export async function loader({ request }: LoaderFunctionArgs) {
  const ids = (new URL(request.url).searchParams.get('of') ?? '').split(',').slice(0, MOST);
  return Response.json({ missing: await missingOriginals(await footageOf(ids)) });
}
