/** Something that is kept, in a list: its name can be changed, it is saved as a file, and removed. */
import { Download, Trash2 } from 'lucide-react';
import type { ReactNode } from 'react';
import type { KeptItem } from '~/model/kept';
import { IconButton } from '~/ui/IconButton';
import { NameField } from '~/ui/NameField';
import { forgetItem, keepItem, saveAsFile } from '../state/kept';

export function KeptRow({ item, about, children }: { item: KeptItem; about?: string; children?: ReactNode }) {
  const { document } = item;
  return (
    <li className="flex items-center gap-1 border-b border-rule">
      <NameField
        className="flex-1"
        label={`Name of ${document.name}`}
        name={document.name}
        onRename={(name) => void keepItem({ ...document, name }, item.id)}
      />
      {about && <span className="figure text-muted">{about}</span>}
      {children}
      <IconButton label={`Save ${document.name} as a file`} className="size-6!" onClick={() => saveAsFile(document)}>
        <Download size={13} />
      </IconButton>
      <IconButton label={`Remove ${document.name}`} className="size-6!" onClick={() => void forgetItem(item)}>
        <Trash2 size={13} />
      </IconButton>
    </li>
  );
}
