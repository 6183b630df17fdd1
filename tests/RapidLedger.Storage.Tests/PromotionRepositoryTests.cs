using System.Collections.Immutable;
using CsCheck;
using Microsoft.Data.Sqlite;
using NodaTime;

namespace RapidLedger.Storage.Tests;

/// <summary>Promotions in a real file against a model in memory: whatever is done, in whatever order, both tell the same.</summary>
public sealed class PromotionRepositoryTests : IDisposable
{
    private static readonly string[] States = ["live", "paused", "archived"];

    private readonly string folder = Directory.CreateTempSubdirectory("ledger-").FullName;

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public void Whatever_is_done_is_kept_and_every_edition_stays_what_it_was() => Gen.Select(Gen.Int[0, 5], Gen.Int[0, 3], Gen.Int[0, 9], Gen.Int[0, 2]).Array[1, 40].Sample(
        steps =>
        {
            var database = new Database(Path.Combine(folder, $"{Guid.NewGuid()}.db"));
            database.Upgrade();
            var (kept, model) = (new PromotionRepository(database, SystemClock.Instance), Model.Empty);
            foreach (var (what, which, text, state) in steps)
            {
                model = Do(kept, model, what, which, $"{{\"text\": {text}}}", States[state], stale: text == 9);
                // A restart in between changes nothing: another repository over the same file, its schema brought up again.
                if (text == 8)
                {
                    database = new Database(database.Path);
                    database.Upgrade();
                    kept = new PromotionRepository(database, SystemClock.Instance);
                }

                Assert.Equal(model.Promotions.Values.OrderBy(promotion => promotion.Id, StringComparer.Ordinal), kept.All().Select(promotion => promotion with { TouchedAt = "" }));
                Assert.Equal(model.Promotions.Keys.ToHashSet(), kept.Ids());
                Assert.Equal(model.Promotions.Values.Count(promotion => promotion.Draft is not null && promotion.State != "archived"), kept.CountDrafts());
                Assert.Equal(model.Editions.Count, kept.NewestEdition()?.Number ?? 0);
            }

            for (var number = 1; number <= model.Editions.Count; number++) Assert.Equal(model.Editions[number - 1], kept.Edition(number));
        },
        iter: 60);

    [Fact]
    public void Uses_are_counted_until_a_moment_by_day_and_by_shopper()
    {
        var database = new Database(Path.Combine(folder, "uses.db"));
        database.Upgrade();
        var kept = new PromotionRepository(database, SystemClock.Instance);
        kept.Add([("a", "live", "{}"), ("b", "live", "{}")]);
        var random = new Random(5);
        var noon = Instant.FromUtc(2027, 3, 5, 12, 0);
        var uses = Enumerable.Range(0, 400).Select(_ => (
            Promotion: random.Next(2) == 0 ? "a" : "b",
            Shopper: random.Next(3) switch { 0 => null, 1 => "s1", _ => "s2" },
            At: noon + Duration.FromMinutes(random.Next(-5_000, 5_000)),
            Amount: random.NextInt64(1_000))).ToArray();
        // At those very instants too.
        uses[0] = uses[0] with { At = noon };
        uses[1] = uses[1] with { At = noon - Duration.FromHours(12) };
        kept.AddRedemptions(uses);
        foreach (var (at, day) in new[] { (noon, noon - Duration.FromHours(12)), (noon + Duration.FromDays(9), noon), (noon - Duration.FromDays(9), noon - Duration.FromDays(9)) })
        {
            foreach (var shopper in new[] { "s1", "s3", null })
            {
                var counted = uses.Where(use => use.At <= at).ToArray();
                var expected = counted.GroupBy(use => use.Promotion).OrderBy(group => group.Key).Select(group => new StoredUsage(
                    group.Key, group.Count(), group.Count(use => shopper is not null && use.Shopper == shopper), group.Count(use => use.At >= day), group.Sum(use => use.Amount)));
                Assert.Equal(expected, kept.Usage(at, day, shopper).OrderBy(usage => usage.PromotionId));
            }
        }
    }

    [Fact]
    public void A_write_that_fails_half_way_leaves_everything_as_it_was()
    {
        var database = new Database(Path.Combine(folder, "half.db"));
        database.Upgrade();
        var kept = new PromotionRepository(database, SystemClock.Instance);
        kept.Add([("a", "live", "{\"old\": 1}")]);
        var before = kept.All();
        // The second of the two is there already.
        Assert.Throws<SqliteException>(() => kept.Add([("b", "live", "{}"), ("a", "live", "{}")]));
        // Live without a version to show is no state a promotion can be in.
        var begun = kept.Begin(_ => "{}");
        Assert.Throws<SqliteException>(() => kept.SetState(begun.Id, begun.Revision, "live"));
        Assert.Throws<SqliteException>(() => kept.SetState("a", before[0].Revision, "on holiday"));
        Assert.Equal([.. before, begun], kept.All());
        Assert.Equal(1, kept.NewestEdition()!.Number);
        Assert.Equal(["{\"old\": 1}"], kept.Edition(1));
    }

    private static Model Do(PromotionRepository kept, Model model, int what, int which, string text, string state, bool stale)
    {
        if (what == 0 || model.Promotions.IsEmpty)
        {
            var begun = kept.Begin(id => $"{{\"id\": \"{id}\"}}");
            // Ids are counted on, so that two desks never begin the same promotion.
            Assert.DoesNotContain(begun.Id, model.Promotions.Keys);
            return model.With(new(begun.Id, "draft", null, null, $"{{\"id\": \"{begun.Id}\"}}", 1, ""));
        }

        var current = model.Promotions.Values.OrderBy(promotion => promotion.Id, StringComparer.Ordinal).ElementAt(which % model.Promotions.Count);
        // Neither a revision that is older nor one that nobody has seen yet.
        var seen = stale ? current.Revision + (which % 2 == 0 ? -1 : 1) : current.Revision;
        var (outcome, after) = what switch
        {
            1 => (kept.KeepDraft(current.Id, seen, text), current with { Draft = text }),
            2 => (kept.DropDraft(current.Id, seen), current.Version is null ? null : current with { Draft = null }),
            3 when current.Version is not null => (kept.SetState(current.Id, seen, state), current with { State = state }),
            _ => (kept.Save(current.Id, seen, text, state), current with { State = state, Version = (current.Version ?? 0) + 1, Document = text, Draft = null }),
        };
        Assert.Equal(stale, outcome.Conflict);
        if (stale)
        {
            Assert.Equal(current, outcome.Current! with { TouchedAt = "" });
            return model;
        }

        if (after is null) return model with { Promotions = model.Promotions.Remove(current.Id) };
        after = after with { Revision = current.Revision + 1 };
        Assert.Equal(after, outcome.Current! with { TouchedAt = "" });
        var isSaved = after.Version != current.Version;
        var publishes = isSaved ? after.State == "live" || current.State == "live" : (after.State == "live") != (current.State == "live");
        return publishes ? model.With(after).Published() : model.With(after);
    }

    private sealed record Model(ImmutableDictionary<string, StoredPromotion> Promotions, ImmutableList<string[]> Editions)
    {
        public static readonly Model Empty = new(ImmutableDictionary<string, StoredPromotion>.Empty, []);

        public Model With(StoredPromotion promotion) => this with { Promotions = Promotions.SetItem(promotion.Id, promotion) };

        public Model Published() => this with
        {
            Editions = Editions.Add([.. Promotions.Values.Where(promotion => promotion.State == "live").OrderBy(promotion => promotion.Id, StringComparer.Ordinal).Select(promotion => promotion.Document!)]),
        };
    }
}
