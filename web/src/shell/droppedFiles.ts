/** What was dropped to begin a project with, until the screen that reads files takes it. */
let waiting: File[] = [];

/** The files that were dropped, those in folders too. */
export async function dropped(transfer: DataTransfer): Promise<File[]> {
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry()).filter((entry) => !!entry);
  if (entries.length === 0) return [...transfer.files];
  const found: File[] = [];
  const walk = async (entry: FileSystemEntry): Promise<void> => {
    if (found.length >= MOST) return;
    if (entry.isFile) {
      found.push(await new Promise<File>((done, no) => (entry as FileSystemFileEntry).file(done, no)));
      return;
    }
    const reader = (entry as FileSystemDirectoryEntry).createReader();
    for (;;) {
      const some = await new Promise<FileSystemEntry[]>((done, no) => reader.readEntries(done, no));
      if (some.length === 0) return;
      for (const each of some) await walk(each);
    }
  };
  for (const entry of entries) await walk(entry);
  return found.filter(({ name }) => !name.startsWith("."));
}

/** No more files are looked for in folders. */
const MOST = 20_000;

/** Keeps what was dropped for the screen that reads files. */
export async function dropFiles(transfer: DataTransfer) {
  waiting = await dropped(transfer);
}

/** Takes what waits, once. */
export function takeDropped(): File[] {
  const files = waiting;
  waiting = [];
  return files;
}
