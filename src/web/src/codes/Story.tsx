import { useQueryClient } from '@tanstack/react-query';
import { Link } from 'wouter';
import { answered, api } from '../api/client';
import { useStory } from '../api/queries';

/** All that is known of a code: what it starts, where it comes from, who used it, its link and its picture. */
export function Story({ code, onClose }: { code: string; onClose: () => void }) {
  const queries = useQueryClient();
  const { data: story, error } = useStory(code);
  if (error)
    return (
      <p className="border-b border-rule bg-doubted px-4 py-2 text-doubt" role="status">
        {error.message}
      </p>
    );
  if (!story) return null;
  const setVoid = (isVoid: boolean) =>
    answered(api.POST('/api/codes/void', { params: { query: { code: story.code, isVoid } } })).then(() =>
      Promise.all(['codes', 'story', 'batches'].map((key) => queries.invalidateQueries({ queryKey: [key] }))),
    );
  const link = story.link.startsWith('/') ? `${window.location.origin}${story.link}` : story.link;
  return (
    <section aria-label={`The story of ${story.code}`} className="flex gap-4 border-b border-ink bg-band px-4 py-3" data-testid="story">
      <div className="min-w-0 flex-1">
        <h2 className="font-mono text-[17px] font-medium">{story.code}</h2>
        <p className="max-w-[60ch]">{story.story}</p>
        {story.promotion && (
          <p>
            <Link href={`/promotions/${story.promotion}`} className="word">
              to its promotion
            </Link>
          </p>
        )}
        {story.orders.length > 0 && (
          <p className="text-faded">
            used by{' '}
            {story.orders.map((order, place) => (
              <span key={order}>
                {place > 0 && ', '}
                <Link className="word" href={`/orders?order=${encodeURIComponent(order)}`}>
                  {order}
                </Link>
              </span>
            ))}
          </p>
        )}
        <p className="truncate">
          <a className="word" href={story.link}>
            {link}
          </a>
        </p>
        <p className="flex gap-4">
          {story.batch && (
            <button type="button" className="word" onClick={() => setVoid(!story.void)}>
              {story.void ? 'make valid again' : 'make void'}
            </button>
          )}
          <button type="button" className="word" onClick={onClose}>
            close
          </button>
        </p>
      </div>
      <img
        src={`/api/codes/qr?code=${encodeURIComponent(story.code)}`}
        alt={`QR code of the link with ${story.code}`}
        className="h-32 w-32 border border-ink bg-white"
      />
    </section>
  );
}
