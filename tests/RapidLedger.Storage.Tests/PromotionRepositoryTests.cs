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
    public Task Whatever_is_done_is_kept_and_every_edition_stays_what_it_was() =>
        Gen.Select(Gen.Int[0, 5], Gen.Int[0, 3], Gen.Int[0, 9], Gen.Int[0, 2], (what, which, text, state) =>
                (What: what, Which: which, Text: text, State: state)
            )
            .Array[1, 40]
            .SampleAsync(
                async steps =>
                {
                    var database = new Database(Path.Combine(folder, $"{Guid.NewGuid()}.db"));
                    database.Upgrade();
                    var (kept, model) = (new PromotionRepository(database, SystemClock.Instance), Model.Empty);
                    var (followed, seen) = (new SortedDictionary<string, StoredPromotion>(StringComparer.Ordinal), -1L);
                    foreach (var (what, which, text, state) in steps)
                    {
                        model = await Do(kept, model, what, which, $"{{\"text\": {text}}}", States[state], stale: text == 9);
                        // A restart in between changes nothing: another repository over the same file, its schema brought up again.
                        if (text == 8)
                        {
                            database = new Database(database.Path);
                            database.Upgrade();
                            kept = new PromotionRepository(database, SystemClock.Instance);
                        }

                        Assert.Equal(
                            model.Promotions.Values.OrderBy(promotion => promotion.Id, StringComparer.Ordinal),
                            kept.All().Select(promotion => promotion with { TouchedAt = "" })
                        );
                        // Whoever reads what came since, and nothing else, knows all.
                        var written = kept.Written();
                        foreach (var id in kept.WrittenSince(seen))
                            followed.Remove(id);
                        foreach (var promotion in kept.Find([.. kept.WrittenSince(seen)]))
                            followed.Add(promotion.Id, promotion);
                        seen = written;
                        Assert.Equal(kept.All(), followed.Values);
                        Assert.Equal(model.Ids.ToHashSet(), kept.Ids());
                        Assert.Equal(model.Editions.Count, kept.NewestEdition()?.Number ?? 0);
                    }

                    // From any edition to any later one only what changed is told, and it leads there.
                    for (var number = 1; number <= model.Editions.Count; number++)
                    {
                        Assert.Equal(model.Editions[number - 1].Values, kept.Edition(number));
                        var from = steps[0].Text % number;
                        var known = (from == 0 ? ImmutableSortedDictionary<string, string>.Empty : model.Editions[from - 1]).ToBuilder();
                        foreach (var (id, document) in kept.Changes(from, number))
                        {
                            if (document is null)
                                known.Remove(id);
                            else
                                known[id] = document;
                        }

                        Assert.Equal(model.Editions[number - 1], known.ToImmutable());
                    }
                },
                iter: 60
            );

    [Fact]
    public async Task A_write_that_fails_half_way_leaves_everything_as_it_was()
    {
        var database = new Database(Path.Combine(folder, "half.db"));
        database.Upgrade();
        var kept = new PromotionRepository(database, SystemClock.Instance);
        Task Put(params IncomingPromotion[] promotions) =>
            new WholeShopRepository(database, SystemClock.Instance).Replace(new("", "", "", [], [], promotions, []), "");
        await Put(new IncomingPromotion("a", "live", "{\"old\": 1}", null, []));
        var before = kept.All();
        // The first of the two could be written, and the one that is there would be retired.
        await Assert.ThrowsAsync<SqliteException>(() =>
            Put(new IncomingPromotion("b", "live", "{}", null, []), new IncomingPromotion("c", "on holiday", "{}", null, []))
        );
        // Live without a version to show is no state a promotion can be in.
        var begun = await kept.Begin(_ => "{}");
        await Assert.ThrowsAsync<SqliteException>(() => kept.SetState(begun.Id, begun.Revision, "live"));
        await Assert.ThrowsAsync<SqliteException>(() => kept.SetState("a", before[0].Revision, "on holiday"));
        Assert.Equal([.. before, begun], kept.All());
        Assert.Equal(1, kept.NewestEdition()!.Number);
        Assert.Equal(["{\"old\": 1}"], kept.Edition(1));
    }

    private static async Task<Model> Do(PromotionRepository kept, Model model, int what, int which, string text, string state, bool stale)
    {
        if (what == 0 || model.Promotions.IsEmpty)
        {
            var begun = await kept.Begin(id => $"{{\"id\": \"{id}\"}}");
            // Ids are counted on, also past those that are gone.
            Assert.DoesNotContain(begun.Id, model.Ids);
            return model.With(new(begun.Id, "draft", null, null, $"{{\"id\": \"{begun.Id}\"}}", 1, ""));
        }

        var current = model
            .Promotions.Values.OrderBy(promotion => promotion.Id, StringComparer.Ordinal)
            .ElementAt(which % model.Promotions.Count);
        // Neither a revision that is older nor one that nobody has seen yet.
        var seen = stale ? current.Revision + (which % 2 == 0 ? -1 : 1) : current.Revision;
        var (outcome, after) = what switch
        {
            1 => (await kept.KeepDraft(current.Id, seen, text), current with { Draft = text }),
            2 => (await kept.DropDraft(current.Id, seen), current.Version is null ? null : current with { Draft = null }),
            3 when current.Version is not null => (await kept.SetState(current.Id, seen, state), current with { State = state }),
            _ => (
                await kept.Save(current.Id, seen, text, state),
                current with
                {
                    State = state,
                    Version = (current.Version ?? 0) + 1,
                    Document = text,
                    Draft = null,
                }
            ),
        };
        Assert.Equal(stale, outcome.Conflict);
        if (stale)
        {
            Assert.Equal(current, outcome.Current! with { TouchedAt = "" });
            return model;
        }

        if (after is null)
            return model with { Promotions = model.Promotions.Remove(current.Id) };
        after = after with { Revision = current.Revision + 1 };
        Assert.Equal(after, outcome.Current! with { TouchedAt = "" });
        var isSaved = after.Version != current.Version;
        var publishes = isSaved ? after.State == "live" || current.State == "live" : (after.State == "live") != (current.State == "live");
        return publishes ? model.With(after).Published() : model.With(after);
    }

    private sealed record Model(
        ImmutableDictionary<string, StoredPromotion> Promotions,
        ImmutableList<string> Ids,
        ImmutableList<ImmutableSortedDictionary<string, string>> Editions
    )
    {
        public static readonly Model Empty = new(ImmutableDictionary<string, StoredPromotion>.Empty, [], []);

        public Model With(StoredPromotion promotion) =>
            this with
            {
                Promotions = Promotions.SetItem(promotion.Id, promotion),
                Ids = Ids.Contains(promotion.Id) ? Ids : Ids.Add(promotion.Id),
            };

        public Model Published() =>
            this with
            {
                Editions = Editions.Add(
                    Promotions
                        .Values.Where(promotion => promotion.State == "live")
                        .ToImmutableSortedDictionary(promotion => promotion.Id, promotion => promotion.Document!, StringComparer.Ordinal)
                ),
            };
    }
}
