using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Promotions;

/// <summary>A promotion that is to be live.</summary>
/// <param name="Promotion">As read.</param>
/// <param name="At">Where it stands in what was asked for: a JSON pointer.</param>
internal sealed record ToBeLive(Promotion Promotion, string At);

/// <summary>
/// The one way in which promotions become live, whoever asks: put live, resumed, an old edition put back. The second look finds nothing
/// that
/// cannot be meant, and their codes and batches start nothing else; it is written only if what was looked at still stands.
/// </summary>
internal sealed class Publishing(OpenShop shop, IClock clock)
{
    /// <summary>Looks at what is to be live, and writes it.</summary>
    /// <param name="fresh">What becomes live or changes.</param>
    /// <param name="after">All that is live afterwards, of what is live now.</param>
    /// <param name="write">Writes it, unless another edition was published since or a code is taken.</param>
    /// <returns>What came of it, or what keeps it from being live.</returns>
    public async Task<Outcome<T>> Publish<T>(
        IReadOnlyList<ToBeLive> fresh,
        Func<LiveEdition, Rulebook> after,
        Func<LiveCheck, Task<T>> write
    )
        where T : class, ILiveOutcome
    {
        while (true)
        {
            var edition = shop.Live;
            var rulebook = after(edition);
            var problems = fresh.SelectMany(one => Problems(one, rulebook)).ToArray();
            if (problems.Length > 0)
                return new(problems);
            string[] codes = [.. fresh.SelectMany(one => BareCodes(one.Promotion)).Distinct(StringComparer.Ordinal)];
            var outcome = await write(new(edition.Number, codes));
            if (outcome.Taken.Count > 0)
                return new([.. fresh.SelectMany(one => Taken(one, outcome.Taken))]);
            if (!outcome.IsBehind)
                return new(outcome);
        }
    }

    private IEnumerable<Problem> Problems(ToBeLive one, Rulebook after)
    {
        var (promotion, at) = one;
        // What cannot be meant is not started; all else is the merchant's to mean.
        foreach (var found in Review.Errors(promotion, shop.Around(promotion, clock.GetCurrentInstant(), live: after)))
            yield return new($"{at}{found.At}", ProblemCode.NotMeant, found.Sentence);
        // A batch is of one promotion.
        for (var place = 0; place < (promotion.Trigger?.Batches.Count ?? 0); place++)
            if (
                after.Promotions.FirstOrDefault(other =>
                    other.Id != promotion.Id && other.Trigger?.Batches.Contains(promotion.Trigger!.Batches[place]) == true
                ) is
                { } other
            )
                yield return new(
                    $"{at}/trigger/batches/{place}",
                    ProblemCode.Duplicate,
                    $"The batch {promotion.Trigger!.Batches[place]} starts “{other.Named}” already, which is live."
                );
    }

    // A code is a promotion's own or of one batch.
    private static IEnumerable<Problem> Taken(ToBeLive one, IReadOnlyList<TakenCode> taken)
    {
        string[] own = [.. BareCodes(one.Promotion)];
        foreach (var code in taken)
            if (Array.IndexOf(own, code.Bare) is >= 0 and var place)
                yield return new(
                    $"{one.At}/trigger/codes/{place}",
                    ProblemCode.Duplicate,
                    $"This code is in the batch {code.Batch} already. Choose another one."
                );
    }

    private static IEnumerable<string> BareCodes(Promotion promotion) =>
        (promotion.Trigger?.Codes ?? []).Select(code => Trigger.Bare(Trigger.Normal(code)));
}
