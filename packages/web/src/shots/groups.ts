/** A file with the folder that it lay in, where a folder was brought. */
export interface Found {
  file: File;
  folder: string;
}
/** Files that are one medium. */
export interface Group {
  name: string;
  files: File[];
}

const STILL = /\.(png|jpe?g|webp|tiff?|exr)$/i;
/** A stem with the place of its last number. */
const stemOf = ({ file, folder }: Found): string | null => {
  const m = STILL.test(file.name) ? /^(.*?)\d+(\D*)$/.exec(file.name) : null;
  return m ? `${folder}/${m[1]!}#${m[2]!.toLowerCase()}` : null;
};

/**
 * Files as media: stills of one folder whose names differ in their last number alone are a sequence, everything else stands for itself. Files that
 * nobody can see (`.DS_Store` and the like) are left out.
 */
export function groupsOf(found: readonly Found[]): Group[] {
  const groups = new Map<string, Group>();
  for (const one of found) {
    if (one.file.name.startsWith('.')) continue;
    const stem = stemOf(one),
      key = stem ?? `${one.folder}/${one.file.name}/${groups.size}`,
      known = groups.get(key);
    if (known) known.files.push(one.file);
    else groups.set(key, { name: one.file.name, files: [one.file] });
  }
  return [...groups.values()].map((group) => ({
    name:
      group.files.length > 1
        ? `${group.files.length} pictures of ${group.name.replace(/\d+(\D*)$/, '').replace(/[._-]+$/, '') || 'a sequence'}`
        : group.name,
    files: group.files,
  }));
}

/** Files of a list, with the folders that a browser says they lay in. */
export const filesOf = (list: FileList | readonly File[] | null): Found[] =>
  [...(list ?? [])].map((file) => ({ file, folder: file.webkitRelativePath.split('/').slice(0, -1).join('/') }));

/** Everything that was dropped, with what folders hold; to be called while the drop is being told. */
export function filesOfDrop(dropped: DataTransfer): Promise<Found[]> {
  const entries = [...dropped.items].map((item) => item.webkitGetAsEntry?.() ?? null);
  if (!entries.some((entry) => entry?.isDirectory)) return Promise.resolve(filesOf(dropped.files));
  return Promise.all(entries.map((entry) => (entry ? filesIn(entry, '') : []))).then((lists) => lists.flat());
}
async function filesIn(entry: FileSystemEntry, folder: string): Promise<Found[]> {
  if (entry.isFile)
    return [{ file: await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject)), folder }];
  const reader = (entry as FileSystemDirectoryEntry).createReader(),
    out: Found[] = [];
  for (;;) {
    // A folder is told in parts of a hundred.
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) return out;
    for (const one of some) out.push(...(await filesIn(one, `${folder}/${entry.name}`)));
  }
}
