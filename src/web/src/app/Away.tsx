import { useReach } from '../api/reach';
import { useShopContext } from '../shop/shop';

/** While the server does not answer: how old what is on the screen is, and that nothing is lost. */
export function Away() {
  const { away, heardAt } = useReach();
  const { format } = useShopContext();
  return (
    <div role="status">
      {away && (
        <p className="border-b border-rule bg-doubted px-4 py-1 text-doubt" data-testid="away">
          ⚠ The server does not answer. What you see is from {format.moment(heardAt)}; what you write is kept in this browser. It goes on by
          itself when the server is back.
        </p>
      )}
    </div>
  );
}
