using RapidLedger.Formats;
using RapidLedger.Pricing;

namespace RapidLedger.Server.Shop;

// How it follows the store: promotions at once, goods and settings by one that reads them while others go on.
internal sealed partial class OpenShop
{
    /// <summary>Comes back when this process prices by the goods and settings that were written when it was called.</summary>
    public async Task FollowSetup()
    {
        var asked = repository.Numbers();
        while (Setup.Numbers.Goods < asked.Goods || Setup.Numbers.Settings < asked.Settings || Setup.Numbers.Renames < asked.Renames)
            await BeginToFollow();
    }

    /// <summary>Looks whether anything was written, so that what another process wrote is followed although nobody asks.</summary>
    public Task Follow()
    {
        Followed();
        return FollowSetup();
    }

    // Whoever finds that something was written reads that, while the others go on with what they have.
    private Shelf Followed()
    {
        var stamp = database.Stamp();
        if (shelf.Stamp == stamp)
            return shelf;
        lock (following)
        {
            var known = shelf;
            // Asked before reading: what is written meanwhile is found the next time.
            stamp = database.Stamp();
            if (known.Stamp == stamp)
                return known;
            var (written, numbers) = (promotions.Written(), repository.Numbers());
            // Goods take longer: nobody waits for them but who wrote them.
            if (numbers != known.Setup.Numbers)
                BeginToFollow();
            // A rename changes goods and promotions at once: until both are read, prices are those before it.
            if (numbers.Renames != known.Setup.Numbers.Renames)
                return known;
            if (known.Written == written)
                return shelf = known with { Stamp = stamp };
            var (changed, batches) = (promotions.WrittenSince(known.Written), promotions.Batches());
            var ids = changed.All(known.Ids.Contains) ? known.Ids : new HashSet<string>([.. known.Ids, .. changed], StringComparer.Ordinal);
            var byId = known.ById;
            if (changed.Count > 0)
            {
                byId = new(byId, StringComparer.Ordinal);
                foreach (var id in changed)
                    byId.Remove(id);
                foreach (var stored in known.Written < 0 ? promotions.All() : promotions.Find(changed))
                    byId[stored.Id] = new(stored, Read(stored.Shown, ids, batches), this);
            }

            return shelf = new(stamp, written, known.Setup, ids, batches, byId, Following(known.Live, known.Setup, ids, batches));
        }
    }

    // One at a time reads goods and settings anew, until it has read all that is written; whoever asks meanwhile can wait for that.
    private Task BeginToFollow()
    {
        lock (settingUp)
            return setupTask ??= Task.Run(ReadSetups);
    }

    private void ReadSetups()
    {
        try
        {
            while (true)
            {
                ReadSetup();
                // Asked where others are told whether somebody reads: what is written after this makes another begin.
                lock (settingUp)
                    if (repository.Numbers() == Setup.Numbers)
                    {
                        setupTask = null;
                        return;
                    }
            }
        }
        catch
        {
            lock (settingUp)
                setupTask = null;
            throw;
        }
    }

    private void ReadSetup()
    {
        var known = shelf;
        var numbers = repository.Numbers();
        var setup =
            numbers.Settings == known.Setup.Numbers.Settings && repository.ChangedSince(known.Setup.Numbers.Goods) is { } changes
                ? known.Setup.With(changes.Rows, changes.Number, this)
                : ShopSetup.Of(repository.Find(), NameOf, this);
        // Written while it was read: what is read now may be from both sides of a rename.
        if (repository.Numbers().Renames != numbers.Renames)
            return;
        setup = setup.After(repository.Renames(), this);
        if (numbers.Renames != known.Setup.Numbers.Renames)
        {
            ReadAllAnew(setup);
            return;
        }

        var isOtherStore = setup.Numbers.Settings != known.Setup.Numbers.Settings;
        // What could be read with other goods says the same with these; with other settings anything may read otherwise.
        var live = isOtherStore ? null : ReadAnew(known.Live, setup, known.Ids, known.Batches);
        lock (following)
        {
            var now = shelf;
            var byId = now.ById.Values.ToDictionary(
                promotion => promotion.Stored.Id,
                promotion =>
                    isOtherStore || promotion.Read.Promotion is null
                        ? new ShelvedPromotion(promotion.Stored, Read(promotion.Stored.Shown, now.Ids, now.Batches, setup), this)
                        : new(promotion.Stored, promotion.Read with { Wording = setup.Wording }, this),
                StringComparer.Ordinal
            );
            live ??= new(0, Rulebook.Compile(setup.Catalogue, []), new Dictionary<string, IReadOnlyList<Problem>>());
            shelf = new(now.Stamp, now.Written, setup, now.Ids, now.Batches, byId, Following(live, setup, now.Ids, now.Batches));
        }
    }

    // Promotions and goods by their new words, swapped in together.
    private void ReadAllAnew(ShopSetup setup)
    {
        lock (following)
        {
            var (stamp, written) = (database.Stamp(), promotions.Written());
            var (ids, batches) = (promotions.Ids(), promotions.Batches());
            var byId = promotions
                .All()
                .ToDictionary(
                    stored => stored.Id,
                    stored => new ShelvedPromotion(stored, Read(stored.Shown, ids, batches, setup), this),
                    StringComparer.Ordinal
                );
            var none = new LiveEdition(0, Rulebook.Compile(setup.Catalogue, []), new Dictionary<string, IReadOnlyList<Problem>>());
            shelf = new(stamp, written, setup, ids, batches, byId, Following(none, setup, ids, batches));
        }
    }

    // The same edition over other goods: those that could not be read are tried again.
    private LiveEdition ReadAnew(LiveEdition live, ShopSetup setup, IReadOnlySet<string> ids, IReadOnlySet<string> batches)
    {
        var (all, unreadable) = (live.Rulebook.Promotions.ToList(), new Dictionary<string, IReadOnlyList<Problem>>(StringComparer.Ordinal));
        foreach (var (id, document) in promotions.Documents(live.Number, [.. live.Unreadable.Keys]))
        {
            var read = Read(document, ids, batches, setup);
            if (read.Promotion is { } promotion)
                all.Add(promotion with { State = State.Live });
            else
                unreadable[id] = read.Problems;
        }

        return new(live.Number, Rulebook.Compile(setup.Catalogue, all), unreadable);
    }

    private LiveEdition Following(LiveEdition known, ShopSetup setup, IReadOnlySet<string> ids, IReadOnlySet<string> batches)
    {
        var newest = promotions.NewestEdition()?.Number ?? 0;
        if (newest == known.Number)
            return known;
        var unreadable = new Dictionary<string, IReadOnlyList<Problem>>(known.Unreadable, StringComparer.Ordinal);
        var (put, takenOut) = (new List<Promotion>(), new List<string>());
        foreach (var (id, document) in promotions.Changes(known.Number, newest))
        {
            unreadable.Remove(id);
            takenOut.Add(id);
            if (document is null)
                continue;
            var read = Read(document, ids, batches, setup);
            if (read.Promotion is { } promotion)
                put.Add(promotion with { State = State.Live });
            else
                unreadable[id] = read.Problems;
        }

        return new(newest, known.Number == 0 ? Rulebook.Compile(setup.Catalogue, put) : known.Rulebook.With(put, takenOut), unreadable);
    }

    private sealed record Shelf(
        long Stamp,
        long Written,
        ShopSetup Setup,
        IReadOnlySet<string> Ids,
        IReadOnlySet<string> Batches,
        Dictionary<string, ShelvedPromotion> ById,
        LiveEdition Live
    )
    {
        public IReadOnlyCollection<ShelvedPromotion> Promotions { get; } = [.. ById.Values];

        public int Drafts { get; } = ById.Values.Count(promotion => promotion.Stored is { Draft: not null, State: not "archived" });
    }
}
