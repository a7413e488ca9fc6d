/**
 * Pages that stay when the server is away for a moment: what a page was loaded with is kept, and shown on when loading it
 * again fails because there was no answer. What the server itself says is told as ever.
 */
import { isRouteErrorResponse, type ClientLoaderFunctionArgs } from 'react-router';

export interface LastData<T> {
  /** To be exported as the route's `clientLoader`. */
  clientLoader(args: Pick<ClientLoaderFunctionArgs, 'request' | 'serverLoader'>): Promise<T>;
  /** To be called with what the page shows. */
  remember(data: T): void;
}

/** Whether a failure came from the server and not from the way to it. */
const answered = (error: unknown) => error instanceof Response || isRouteErrorResponse(error);

/** Keeps a route's last data, by its address without what stands after the question mark. */
export function keepLast<T>(): LastData<T> {
  let last: { path: string; data: T } | null = null;
  const pathNow = () => (typeof location === 'undefined' ? '' : location.pathname);
  return {
    async clientLoader({ request, serverLoader }) {
      const path = new URL(request.url).pathname;
      try {
        const data = (await serverLoader()) as T;
        last = { path, data };
        return data;
      } catch (error) {
        if (answered(error) || last?.path !== path) throw error;
        return last.data;
      }
    },
    remember: (data) => void (last = { path: pathNow(), data }),
  };
}
