/** Handing a file to whoever uses the browser, and reading one that they choose. */

/** Has the browser save some text as a file. */
export function saveFile(name: string, text: string, type: string) {
  const address = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement('a');
  link.href = address;
  link.download = name.replace(/[^\p{L}\p{N} ._-]/gu, '');
  link.click();
  URL.revokeObjectURL(address);
}

/** Asks for files of some endings and hands them on. */
export function chooseFiles(endings: string, take: (file: File) => Promise<void>) {
  const input = document.createElement('input');
  input.type = 'file';
  input.accept = endings;
  input.multiple = true;
  input.onchange = () => {
    for (const file of input.files ?? []) void take(file);
  };
  input.click();
}
