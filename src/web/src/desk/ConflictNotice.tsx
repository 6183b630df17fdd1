import type { Json, PromotionPage } from '../api/client';

type Props = { theirs: PromotionPage; mine: Json; onSettle: (mine: boolean) => void };

/** Somebody wrote the same promotion in another window: both are shown, and nothing is lost before a choice is made. */
export function ConflictNotice({ theirs, mine, onSettle }: Props) {
  const differing = [...new Set([...Object.keys(theirs.document), ...Object.keys(mine)])].filter(
    (member) => member !== 'id' && member !== 'state' && JSON.stringify(theirs.document[member]) !== JSON.stringify(mine[member]),
  );
  return (
    <div role="alert" className="border-b border-rule bg-doubted px-4 py-2 text-doubt">
      <p className="font-medium">
        This promotion was written in another window since you opened it. Nothing is lost: choose which to keep.
      </p>
      <table className="my-1 w-full font-mono text-tape">
        <thead>
          <tr className="text-left">
            <th className="w-24 font-normal">differs in</th>
            <th className="font-normal">yours</th>
            <th className="font-normal">theirs</th>
          </tr>
        </thead>
        <tbody>
          {differing.map((member) => (
            <tr key={member} className="align-top">
              <td>{member}</td>
              <td className="break-all pr-2">{JSON.stringify(mine[member]) ?? 'nothing'}</td>
              <td className="break-all">{JSON.stringify(theirs.document[member]) ?? 'nothing'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="flex gap-4">
        <button type="button" className="word text-doubt" onClick={() => onSettle(true)}>
          keep yours
        </button>
        <button type="button" className="word text-doubt" onClick={() => onSettle(false)}>
          take theirs
        </button>
      </p>
    </div>
  );
}
