/** Extensions of pictures, for the browser's file dialog only: what a file is, its content says. */
const PICTURES =
  "jpg jpeg png tif tiff webp avif heic heif dng nef nrw cr2 cr3 arw raf orf rw2 pef srw 3fr iiq raw";
export const ACCEPTED = PICTURES.split(" ")
  .map((each) => `.${each}`)
  .join(",");

/** The name of the folder that was dropped, if it was one folder. */
export function folderOf(items: DataTransferItemList): string | undefined {
  const entries = [...items].map((item) => item.webkitGetAsEntry());
  return entries.length === 1 && entries[0]?.isDirectory ? entries[0].name : undefined;
}

/** The files that were dropped, those of folders and of folders in them too, by name. */
export async function dropped(items: DataTransferItemList): Promise<File[]> {
  // All entries are asked for at once: the list is empty as soon as anything was waited for.
  const entries = [...items].map((item) => item.webkitGetAsEntry() ?? item.getAsFile());
  const found = (
    await Promise.all(entries.map((each) => (each instanceof File ? [each] : each ? filesOf(each) : [])))
  ).flat();
  return found.sort((a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }));
}

async function filesOf(entry: FileSystemEntry): Promise<File[]> {
  if (entry.name.startsWith(".")) return [];
  if (entry.isFile)
    return [await new Promise<File>((yes, no) => (entry as FileSystemFileEntry).file(yes, no))];
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const inside: FileSystemEntry[] = [];
  // A reader gives some at a time, and nothing when there are no more.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((yes, no) => reader.readEntries(yes, no));
    if (!some.length) break;
    inside.push(...some);
  }
  return (await Promise.all(inside.map(filesOf))).flat();
}
