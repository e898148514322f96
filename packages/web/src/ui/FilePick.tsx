import type { RefObject } from 'react';
import { filesOf, type Found } from '../shots/groups';

/** A field for files that nobody sees: a button opens it by `field.current.click()`, and what is chosen comes at once, also the same file once more. */
export function FilePick({
  field,
  label,
  multiple,
  folder,
  accept,
  onFiles,
}: {
  field: RefObject<HTMLInputElement | null>;
  label: string;
  multiple?: boolean;
  /** A folder is chosen, with all that it holds. */
  folder?: boolean;
  accept?: string;
  onFiles(found: Found[]): void;
}) {
  return (
    <input
      ref={field}
      type="file"
      hidden
      multiple={multiple}
      accept={accept}
      aria-label={label}
      {...(folder ? { webkitdirectory: '' } : {})}
      onChange={(event) => {
        onFiles(filesOf(event.target.files));
        event.target.value = '';
      }}
    />
  );
}
