import { AskConsent } from '../ui/Ask';
import type { Uploads } from './useUploads';

/** What uploads are under way, what they ask, and what of them wasn't taken. */
export function UploadStrip({ uploads }: { uploads: Uploads }) {
  const { progress, asked, problems, answer, forget } = uploads;
  return (
    <>
      {progress && !asked && (
        <div className="flex shrink-0 items-center gap-3 border-b border-rule bg-note px-4 py-1.5" role="status">
          <span className="min-w-0 truncate">
            Uploading {progress.name}
            {progress.of > 1 && `: ${progress.done + 1} of ${progress.of}`} …
          </span>
          {progress.of > 1 && (
            <progress
              className="h-1.5 w-40 accent-moss"
              aria-label="Files uploaded"
              value={progress.done}
              max={progress.of}
            />
          )}
        </div>
      )}
      {problems.length > 0 && (
        <div role="alert" className="flex shrink-0 items-start gap-3 border-b border-rule bg-rubric-tint px-4 py-1.5">
          <ul className="min-w-0 flex-1 text-rubric-ink">
            {problems.map((p, i) => (
              <li key={i}>{p}</li>
            ))}
          </ul>
          <button className="button shrink-0 px-2 py-0.5" onClick={forget}>
            Close
          </button>
        </div>
      )}
      {asked?.doubt === 'exists' && (
        <AskConsent
          key={asked.file.name}
          title={`Replace ${asked.file.name}?`}
          text="There is a file of this name. It becomes what yours holds; what it was stays in the history."
          action="Replace it"
          onClose={() => answer(false)}
          onYes={() => answer(true)}
        />
      )}
      {asked?.doubt === 'latin1' && (
        <AskConsent
          key={asked.file.name}
          title={`${asked.file.name} is not stored as UTF-8`}
          text="It can be read as Latin-1, an older way of storing letters with accents. Look at those letters afterwards."
          action="Read it as Latin-1"
          onClose={() => answer(false)}
          onYes={() => answer(true)}
        />
      )}
    </>
  );
}
