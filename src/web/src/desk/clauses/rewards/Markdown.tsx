import type { Json } from '../../../api/client';
import { Sheet } from '../../../ui/Sheet';
import { Items, type RewardProps, wanting } from './parts';
import { readTake, sayTake } from './takes';

type Level = { on?: Json; take?: Json };

/** Lower prices: levels, each with its items. */
export function Markdown({ draft, reward, path }: RewardProps) {
  const levels = (reward.levels as Level[] | undefined) ?? [];
  return (
    <>
      lower prices
      <Sheet<Level>
        label="Levels"
        row="level"
        rows={levels}
        onRows={(rows) => draft.change([...path, 'levels'], rows)}
        fresh={(last) => ({ on: { in: [] }, take: last?.take ?? { percent: 10 } })}
        columns={[
          {
            head: 'takes',
            wanting: (place) => wanting(draft, path, 'levels', place, 'take'),
            text: {
              get: (level) => sayTake(level.take),
              set: (level, text) => ({ ...level, take: readTake(text) ?? { percent: '' } }),
            },
          },
          {
            head: 'of',
            cell: (level, place) => (
              <Items draft={draft} label={`Level ${place + 1}: of what`} value={level.on} path={[...path, 'levels', place, 'on']} />
            ),
          },
        ]}
      />
    </>
  );
}
