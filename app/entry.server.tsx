import 'reflect-metadata';
import { PassThrough } from 'node:stream';
import { createReadableStreamFromReadable } from '@react-router/node';
import { renderToPipeableStream } from 'react-dom/server';
import { ServerRouter, type EntryContext, type RouterContextProvider } from 'react-router';
import { nonceContext } from '~/server/context';

export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  entry: EntryContext,
  context: RouterContextProvider,
) {
  const nonce = context.get(nonceContext);
  return new Promise<Response>((resolve, reject) => {
    const { pipe, abort } = renderToPipeableStream(<ServerRouter context={entry} url={request.url} nonce={nonce} />, {
      nonce,
      onAllReady() {
        const body = new PassThrough();
        headers.set('Content-Type', 'text/html');
        resolve(new Response(createReadableStreamFromReadable(body), { headers, status }));
        pipe(body);
      },
      onShellError: reject,
      onError: (error) => console.error(error),
    });
    setTimeout(abort, 10_000).unref();
  });
}
