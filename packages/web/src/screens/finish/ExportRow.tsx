import { Download } from 'lucide-react';

interface ExportRowProps {
  title: string;
  detail: string;
  busy?: boolean;
  children?: React.ReactNode;
  /** Stands under the row, such as what is to be decided first. */
  below?: React.ReactNode;
  onExport: () => void;
}

/** One thing that can be taken away. */
export function ExportRow({ title, detail, busy = false, children, below, onExport }: ExportRowProps) {
  return (
    <li className="hairline-b py-3">
      <div className="flex items-center justify-between gap-3">
        <div>
          <p className="font-bold">{title}</p>
          <p className="text-soft">{detail}</p>
        </div>
        <div className="flex shrink-0 items-center gap-2">
          {children}
          <button
            type="button"
            className="btn btn-sm btn-outline"
            aria-label={`Export: ${title}`}
            disabled={busy}
            onClick={onExport}
          >
            <Download size={14} /> {busy ? 'Printing …' : 'Export'}
          </button>
        </div>
      </div>
      {below}
    </li>
  );
}
