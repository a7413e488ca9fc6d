/** Asking the server about a footage's source: stills of it, its raw picture, calibrations. */
export type StitchAnswer<T> = T & { problem?: string };

export async function askStitch<T>(footageId: string, body: object, signal?: AbortSignal): Promise<StitchAnswer<T>> {
  const answer = await fetch(`/footage/${footageId}/stitch`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
    signal,
  });
  return (await answer.json()) as StitchAnswer<T>;
}

/** A picture that is ready to be drawn. */
export async function loadImage(address: string): Promise<HTMLImageElement> {
  const image = new Image();
  image.src = address;
  await image.decode();
  return image;
}
