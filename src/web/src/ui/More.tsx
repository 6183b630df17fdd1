/** Asks for the next part of a list that comes in parts; nothing where there is none. */
export function More({
  words,
  list,
}: {
  words: string;
  list: { hasNextPage: boolean; isFetchingNextPage: boolean; fetchNextPage: () => unknown };
}) {
  if (!list.hasNextPage) return null;
  return (
    <p className="px-4 pt-2">
      <button
        type="button"
        className="word"
        aria-disabled={list.isFetchingNextPage}
        onClick={() => !list.isFetchingNextPage && list.fetchNextPage()}
      >
        {words}
      </button>
    </p>
  );
}
