import { ArrowLeft } from 'lucide-react';
import { Link } from 'react-router';
import { Archive } from './Archive';
import { TrashList } from './TrashList';

/** Where deleted things are had back, and where everything is taken away and brought back as one file. */
export function KeepingScreen() {
  return (
    <div className="flex h-full flex-col overflow-y-auto">
      <header className="hairline-b px-12 pt-10 pb-6">
        <Link to="/" className="flex items-center gap-2 text-soft hover:text-base-content">
          <ArrowLeft size={15} /> All studies
        </Link>
        <h1 className="title mt-3 text-4xl">Trash and archive</h1>
      </header>
      <main className="grid grow grid-cols-[1.4fr_1fr]">
        <TrashList />
        <Archive />
      </main>
    </div>
  );
}
