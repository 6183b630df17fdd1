using System.Diagnostics;
using NodaTime;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;

namespace RapidLedger.Server.WhoMeets;

/// <summary>
/// Who meets whom among what is live, with the drafts as they are being written. What was found is kept until one of them, the goods or
/// the settings change.
/// </summary>
internal sealed class MeetingsBook(OpenShop shop, IClock clock)
{
    // Of so many each pair is looked at; of more only those of the promotion that is pressed.
    private const int MostForAllPairs = 60;

    private static readonly TimeSpan AtATime = TimeSpan.FromMilliseconds(300);

    private readonly Lock asking = new();
    private Known? known;

    /// <summary>
    /// Looks at pairs that are not known yet: all of them by what is written, then in carts, for a third of a second at the most.
    /// </summary>
    /// <param name="pairs">Which of a set of promotions, in the order in which they are looked at.</param>
    /// <param name="inCarts">Whether carts are looked for.</param>
    /// <param name="tell">What is made of what is known then.</param>
    /// <param name="gone">Says that nobody waits any more.</param>
    public T Look<T>(
        Func<Known, IEnumerable<(string One, string Other)>> pairs,
        Func<Known, bool> inCarts,
        Func<Known, T> tell,
        CancellationToken gone
    )
    {
        lock (asking)
        {
            var book = Open();
            var began = Stopwatch.GetTimestamp();
            var asked = pairs(book).Where(pair => book.Of(pair.One, pair.Other) is null).ToArray();
            foreach (var (one, other) in asked)
                book.LookByRule(one, other);
            if (inCarts(book))
                foreach (var (one, other) in asked.TakeWhile(_ => Stopwatch.GetElapsedTime(began) < AtATime))
                    book.LookInCarts(one, other, gone);
            return tell(book);
        }
    }

    private Known Open()
    {
        var live = shop.Live.Rulebook;
        var now = clock.GetCurrentInstant();
        ShelvedPromotion[] written =
        [
            .. shop.Promotions.Where(promotion =>
                promotion.Read.Promotion is not null
                && (promotion.Stored.State == "draft" || (promotion.Stored is { State: "live", Draft: not null }))
            ),
        ];
        var stamp = string.Join(' ', written.Select(promotion => $"{promotion.Stored.Id} {promotion.Stored.Revision}"));
        if (known is { } old && old.Live == live && old.Stamp == stamp && now - old.Meetings.Now < Duration.FromHours(1))
            return old;
        var rulebook = live.With(written.Select(promotion => promotion.Read.Promotion!), []);
        return known = new(
            live,
            stamp,
            new(rulebook, now, shop.Wording, shop.Left(rulebook.Givable)),
            written.Select(promotion => promotion.Stored.Id).ToHashSet(StringComparer.Ordinal)
        );
    }

    /// <summary>What is known of a set of promotions.</summary>
    /// <param name="Live">What is live of it.</param>
    /// <param name="Stamp">What is being written beside it.</param>
    /// <param name="Meetings">Where meetings are looked for.</param>
    /// <param name="Drafts">The ids of those that are as they are being written.</param>
    internal sealed record Known(Rulebook Live, string Stamp, Pricing.Meetings Meetings, IReadOnlySet<string> Drafts)
    {
        private readonly Dictionary<string, Witness?> most = new(StringComparer.Ordinal);
        private readonly Dictionary<(string, string), Meeting> found = [];
        private readonly HashSet<(string, string)> notRuledOut = [];

        /// <summary>The promotions, in order of application.</summary>
        public IReadOnlyList<Promotion> Promotions { get; } = [.. Meetings.Rulebook.Promotions];

        /// <summary>How many pairs have been looked at.</summary>
        public int Count => found.Count;

        /// <summary>Whether they are so few that each pair is looked at.</summary>
        public bool IsFew => Promotions.Count <= MostForAllPairs;

        /// <summary>The cart in which most apply beside one; looked for once.</summary>
        public Witness? MostOf(string id) => most.TryGetValue(id, out var known) ? known : most[id] = Meetings.MostTogether(id);

        /// <summary>What was found of two; null: they were not looked at yet, or not in carts.</summary>
        public Meeting? Of(string one, string other) => found.GetValueOrDefault(Meeting.KeyOf(one, other));

        /// <summary>Asks once what is written.</summary>
        public void LookByRule(string one, string other)
        {
            var key = Meeting.KeyOf(one, other);
            if (notRuledOut.Contains(key))
                return;
            if (Meetings.ByRule(one, other) is { } never)
                found[key] = never;
            else
                notRuledOut.Add(key);
        }

        /// <summary>Looks for a cart, if nothing is known yet.</summary>
        public void LookInCarts(string one, string other, CancellationToken gone)
        {
            if (Of(one, other) is null)
                found[Meeting.KeyOf(one, other)] = Meetings.Between(one, other, gone: gone);
        }
    }
}
