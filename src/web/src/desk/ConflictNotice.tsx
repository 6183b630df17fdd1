import type { Clause, Json, PromotionPage } from '../api/client';
import { textOf } from '../shop/document';
import { isSame } from '../ui/same';

type Props = {
  theirs: PromotionPage;
  mine: Json;
  /** Mine in words, as it last made sense. */
  words: Clause[];
  onSettle: (mine: boolean) => void;
};

const HEAD = ['name', 'label', 'note'];

/** Somebody wrote the same promotion in another window: both are shown, and nothing is lost before a choice is made. */
export function ConflictNotice({ theirs, mine, words, onSettle }: Props) {
  const said = (clauses: Clause[], name: string) => clauses.find((clause) => clause.name === name)?.text ?? 'cannot be read yet';
  const differing = [
    ...HEAD.filter((member) => !isSame(theirs.document[member], mine[member])).map((member) => ({
      name: member,
      mine: textOf(mine[member]) || 'nothing',
      theirs: textOf(theirs.document[member]) || 'nothing',
    })),
    ...[...new Set([...words, ...theirs.clauses].map((clause) => clause.name))]
      .map((name) => ({ name, mine: said(words, name), theirs: said(theirs.clauses, name) }))
      .filter((clause) => clause.mine !== clause.theirs),
  ];
  return (
    <div role="alert" className="border-b border-rule bg-doubted px-4 py-2 text-doubt">
      <p className="font-medium">
        This promotion was written in another window since you opened it. Nothing is lost: choose which to keep.
      </p>
      <table className="my-1 w-full">
        <thead>
          <tr className="text-left">
            <th className="w-24 font-normal">differs in</th>
            <th className="font-normal">yours</th>
            <th className="font-normal">theirs</th>
          </tr>
        </thead>
        <tbody>
          {differing.map((one) => (
            <tr key={one.name} className="align-top">
              <td>{one.name}</td>
              <td className="pr-2">{one.mine}</td>
              <td>{one.theirs}</td>
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
