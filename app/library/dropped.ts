/** The files of a drop, with those inside dropped folders. */
export async function droppedFiles(transfer: DataTransfer): Promise<File[]> {
  const entries = [...transfer.items].map((i) => i.webkitGetAsEntry()).filter((e) => e !== null);
  if (!entries.length) return [...transfer.files];
  return (await Promise.all(entries.map(filesOf))).flat();
}

async function filesOf(entry: FileSystemEntry): Promise<File[]> {
  if (entry.isFile)
    return [await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject))];
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const found: File[] = [];
  // A reader hands out at most some hundred entries at a time.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (!some.length) return found;
    for (const child of some) found.push(...(await filesOf(child)));
  }
}
