import {
  Links,
  Meta,
  Outlet,
  Scripts,
  ScrollRestoration,
  isRouteErrorResponse,
  useRouteError,
  useRouteLoaderData,
  Link,
} from 'react-router';
import type { LoaderFunctionArgs } from 'react-router';
import { Toaster } from 'sonner';
import '@fontsource-variable/instrument-sans';
import '@fontsource-variable/martian-mono';
import './app.css';
import { nonceContext } from '~/server/context';

export function loader({ request, context }: LoaderFunctionArgs) {
  const sheet = /glimbo-sheet=(day|night)/.exec(request.headers.get('cookie') ?? '')?.[1] ?? 'day';
  return { sheet, nonce: context.get(nonceContext) };
}

/** Sheet and nonce do not change while the page lives: they are not asked for again, so that a server that is away does no harm. */
export const shouldRevalidate = () => false;

export const meta = () => [{ title: 'Glimbo' }];
export const links = () => [{ rel: 'icon', href: '/mark.svg', type: 'image/svg+xml' }];

export function Layout({ children }: { children: React.ReactNode }) {
  const data = useRouteLoaderData<typeof loader>('root');
  return (
    <html lang="en" data-sheet={data?.sheet ?? 'day'} suppressHydrationWarning>
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <Meta />
        <Links nonce={data?.nonce} />
      </head>
      <body>
        {children}
        <Toaster
          position="bottom-left"
          toastOptions={{
            unstyled: true,
            classNames: { toast: 'slip', actionButton: 'button', cancelButton: 'button' },
          }}
        />
        <ScrollRestoration nonce={data?.nonce} />
        <Scripts nonce={data?.nonce} />
      </body>
    </html>
  );
}

export default function Root() {
  return <Outlet />;
}

export function ErrorBoundary() {
  const error = useRouteError();
  const missing = isRouteErrorResponse(error) && error.status === 404;
  return (
    <main className="grid min-h-screen place-items-center">
      <div className="max-w-md p-8">
        <h1 className="text-xl font-semibold">{missing ? 'Not here' : 'Something went wrong'}</h1>
        <p className="my-3 text-muted">
          {missing
            ? 'This page or take does not exist, or was deleted.'
            : 'The page could not be shown. Your takes are kept; reload to go on.'}
        </p>
        <Link className="button" to="/">
          Go to the Library
        </Link>
      </div>
    </main>
  );
}
