using System.Text.Json;
using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.WhoMeets;

/// <summary>Tells who meets whom, and how that would be changed.</summary>
internal static class MeetingsEndpoints
{
    public static void MapMeetings(this IEndpointRouteBuilder routes)
    {
        var group = routes.MapGroup("/api/meetings");
        group
            .MapGet("/", (MeetingsBook book, OpenShop shop, BackgroundGate gate, HttpContext context) =>
                gate.Run(gone => Results.Ok(Table(book, shop, gone)), context)
            )
            .Produces<MeetingsTable>()
            .Refuses(429, 503)
            .Says("meetings", "meetings", "Who meets whom among what is live and being written");
        group
            .MapGet(
                "/of/{id}",
                (string id, MeetingsBook book, OpenShop shop, CodeRepository codes, BackgroundGate gate, HttpContext context) =>
                    gate.Run(
                        gone =>
                            book.Look(known => PairsOf(known, id), _ => true, known => Of(known, id, shop, codes), gone) is { } of
                                ? Results.Ok(of)
                                : Answers.NoPromotion(id),
                        context
                    )
            )
            .Produces<MeetingsOf>()
            .Refuses(404, 429, 503)
            .Says("meetingsOf", "meetings", "Whom one promotion meets, with a cart for each");
        group
            .MapGet("/count/{id}", (string id, MeetingsBook book, OpenShop shop, BackgroundGate gate, HttpContext context) =>
                gate.Run(gone => shop.Find(id) is null ? Answers.NoPromotion(id) : Results.Ok(Count(id, book, gone)), context)
            )
            .Produces<MeetingsCount>()
            .Refuses(404, 429, 503)
            .Says("meetingsCount", "meetings", "How many one promotion meets");
        group
            .MapPost("/change", (MeetingChange change, PromotionRepository promotions, OpenShop shop) => Change(change, promotions, shop))
            .Produces<IReadOnlyList<ChangedDraft>>()
            .Refuses(400, 404, 413, 415, 422)
            .Says("changeMeeting", "meetings", "The drafts with which two promotions would meet, or not");
        group
            .MapPost("/move", (MeetingMove move, MeetingsBook book, PromotionRepository promotions, CancellationToken gone) =>
                book.Look(_ => [], _ => false, known => Move(move, known, promotions), gone)
            )
            .Produces<IReadOnlyList<ChangedDraft>>()
            .Refuses(400, 404, 413, 415, 422)
            .Says("moveMeeting", "meetings", "The drafts with which a promotion would go before another");
    }

    private static MeetingsTable Table(MeetingsBook book, OpenShop shop, CancellationToken gone) =>
        book.Look(
            known => known.IsFew ? AllPairs(known) : [],
            _ => true,
            known =>
            {
                var families = OnePerCart(shop);
                return new MeetingsTable(
                    [.. known.Promotions.Select(promotion => Row(promotion, known, families))],
                    known.Promotions.Count * (known.Promotions.Count - 1) / 2,
                    known.IsFew ? known.Count : 0,
                    families
                );
            },
            gone
        );

    // What is not finished, or retired, meets nobody.
    private static MeetingsCount Count(string id, MeetingsBook book, CancellationToken gone) =>
        book.Look(
            known => PairsOf(known, id),
            known => known.IsFew,
            known =>
            {
                if (known.Promotions.All(promotion => promotion.Id != id))
                    return new MeetingsCount(0, 0, true, true);
                Meeting?[] others = [.. PairsOf(known, id).Select(pair => known.Of(pair.One, pair.Other))];
                return new MeetingsCount(
                    others.Count(meeting =>
                        known.IsFew ? meeting?.Verdict == MeetingVerdict.Can : meeting?.Verdict != MeetingVerdict.Never
                    ),
                    others.Length,
                    known.IsFew,
                    !known.IsFew || !others.Contains(null)
                );
            },
            gone
        );

    private static MeetingsRow Row(Promotion promotion, MeetingsBook.Known known, string[] families)
    {
        var stacking = promotion.Stacking ?? Stacking.Any;
        var family = stacking.Family is { } name && families.Contains(name) ? name : null;
        Meeting?[] others = known.IsFew ? [.. PairsOf(known, promotion.Id).Select(pair => known.Of(pair.One, pair.Other))] : [null];
        return new(
            promotion.Id,
            promotion.Named,
            known.Drafts.Contains(promotion.Id),
            family is not null ? "family" : JsonNamingPolicy.CamelCase.ConvertName(stacking.Allow.ToString()),
            family,
            promotion.Rank,
            others.Contains(null) ? null : others.Count(meeting => meeting!.Verdict == MeetingVerdict.Can)
        );
    }

    private static MeetingsOf? Of(MeetingsBook.Known known, string id, OpenShop shop, CodeRepository codes)
    {
        if (known.Promotions.FirstOrDefault(promotion => promotion.Id == id) is not { } one)
            return null;
        var usage = shop.UsageAt(known.Meetings.Now);
        bool IsUsedUp(Promotion promotion) =>
            promotion.Limits?.Reached(usage.GetValueOrDefault(promotion.Id, Usage.None), false) is not null;
        MeetingPair[] pairs =
        [
            .. known
                .Promotions.Where(other => other.Id != id)
                .Select(other =>
                    PairOf(one, other, known.Of(id, other.Id), ((Promotion[])[one, other]).Where(IsUsedUp), known, shop, codes)
                ),
        ];
        var isWhole = pairs.All(pair => pair.Verdict is not null);
        return new(id, one.Named, pairs, isWhole, isWhole ? MostOf(known.MostOf(id), known, shop, codes) : null);
    }

    private static MostMet? MostOf(Witness? witness, MeetingsBook.Known known, OpenShop shop, CodeRepository codes)
    {
        if (witness is null)
            return null;
        var (applied, margin) = (witness.Priced.Applied, Percent(witness.Priced.MarginShare));
        return new(
            [.. applied.Select(outcome => outcome.Promotion.Named)],
            shop.WordingIn(witness.Priced.Currency).Say(applied.Sum(outcome => outcome.Amount)),
            margin,
            margin < shop.Store.MarginFloor?.Value,
            JsonSerializer.SerializeToElement(OnTape(witness, known, shop, codes))
        );
    }

    private static decimal? Percent(decimal? share) => share is { } known ? Math.Round(known * 100, 1) : null;

    private static MeetingPair PairOf(
        Promotion one,
        Promotion other,
        Meeting? meeting,
        IEnumerable<Promotion> usedUp,
        MeetingsBook.Known known,
        OpenShop shop,
        CodeRepository codes
    )
    {
        var witness = meeting?.Witness;
        var together = witness is null ? 0 : (witness.Takes(one) ?? 0) + (witness.Takes(other) ?? 0);
        var margin = Percent(witness?.Priced.MarginShare);
        return new(
            other.Id,
            other.Named,
            known.Drafts.Contains(other.Id),
            meeting?.Verdict switch
            {
                null => null,
                MeetingVerdict.Can => "can",
                MeetingVerdict.Never => "never",
                MeetingVerdict.OneWins => meeting.Winner!.Id == one.Id ? "wins" : "loses",
                _ => "notFound",
            },
            meeting?.Ground,
            meeting?.Verdict == MeetingVerdict.Can
                // The tape counts what was used.
                ? meeting.Message
                    + string.Concat(usedUp.Select(promotion => $" “{promotion.Named}” is used up, so it does not apply on the tape."))
                : meeting?.Message,
            together > 0 ? shop.WordingIn(witness!.Priced.Currency).Say(together) : null,
            margin,
            meeting?.Verdict == MeetingVerdict.Can && margin < shop.Store.MarginFloor?.Value,
            witness is null ? null : JsonSerializer.SerializeToElement(OnTape(witness, known, shop, codes))
        );
    }

    // A code that was invented stands for one of its batch: where there is a good one, that one is entered.
    private static JsonObject OnTape(Witness witness, MeetingsBook.Known known, OpenShop shop, CodeRepository codes)
    {
        var cart = CartWriter.Of(witness.Cart, shop.Store.Currency);
        if (witness.Cart.At == known.Meetings.Now)
            cart.Remove("at");
        cart["codes"] = new JsonArray([
            .. witness.Cart.Codes.Select(code =>
                JsonValue.Create(
                    witness.BatchCodes.TryGetValue(code, out var invented)
                        ? codes.CodesOf(invented.Batch).FirstOrDefault(one => one is { Void: false, Used: 0 })?.Written ?? code
                        : code
                )
            ),
        ]);
        return cart;
    }

    private static IEnumerable<(string One, string Other)> AllPairs(MeetingsBook.Known known) =>
        known.Promotions.SelectMany((one, place) => known.Promotions.Skip(place + 1).Select(other => (one.Id, other.Id)));

    private static IEnumerable<(string One, string Other)> PairsOf(MeetingsBook.Known known, string id) =>
        known.Promotions.Any(promotion => promotion.Id == id) ? known.Meetings.Nearest(id).Select(other => (id, other.Id)) : [];

    private static string[] OnePerCart(OpenShop shop) =>
        [.. shop.Store.Families.Where(family => family.OnePerCart).Select(family => family.Name)];

    private static IResult Change(MeetingChange change, PromotionRepository promotions, OpenShop shop)
    {
        if (promotions.Find(change.One) is not { } one)
            return Answers.NoPromotion(change.One);
        if (promotions.Find(change.Other) is not { } other)
            return Answers.NoPromotion(change.Other);
        if (change.One == change.Other)
            return Answers.Refused("/other", ProblemCode.NotAllowed, "A promotion cannot meet itself. Name another.");
        if (change.To is not ("never" or "family" or "can"))
            return Answers.Refused("/to", ProblemCode.UnknownValue, "never, family or can is expected.");
        if (change.To == "family" && !OnePerCart(shop).Contains(change.Family))
            return Answers.Refused(
                "/family",
                ProblemCode.UnknownFamily,
                "Name a family of which one applies to a cart. Families are made in Store."
            );
        var (before, beforeOther) = (JsonNode.Parse(one.Shown)!.AsObject(), JsonNode.Parse(other.Shown)!.AsObject());
        var changed = StackingChange.Of(change, before, beforeOther, OnePerCart(shop));
        var (drafts, both) = (new List<ChangedDraft>(), new List<Promotion>());
        foreach (var (stored, was, document) in new[] { (one, before, changed.One), (other, beforeOther, changed.Other) })
        {
            var read = shop.Read((document ?? was).ToJsonString());
            if (read.Promotion is not { } promotion)
                return Answers.Refused(
                    "",
                    ProblemCode.NotAllowed,
                    $"“{stored.Id}” cannot be read as it is being written: put it right on its own page first."
                );
            both.Add(promotion);
            if (document is not null)
                drafts.Add(
                    new(
                        stored.Id,
                        promotion.Named,
                        stored.Revision,
                        JsonSerializer.SerializeToElement(document),
                        JsonSerializer.SerializeToElement(was),
                        stored.Draft is not null,
                        read.Clauses.FirstOrDefault(clause => clause.Name == "alongside")?.Text ?? "beside anything"
                    )
                );
        }

        // What names a whole family or a pass is not undone by naming one promotion, and a markdown takes no part in stacking.
        var isApart = IsKeptApart(both[0], both[1], shop);
        if (isApart == (change.To == "can"))
            return Answers.Refused(
                "/to",
                ProblemCode.NotAllowed,
                isApart
                    ? "One of them keeps the other out by a family or by what it takes from. Change that in Alongside on its own page."
                    : "A markdown makes prices, whatever stands beside it, and what is named by a family or by what it takes from stays let in. Change that on its own page."
            );
        return Results.Ok(drafts);
    }

    private static IResult Move(MeetingMove move, MeetingsBook.Known known, PromotionRepository promotions)
    {
        foreach (var id in new[] { move.Id, move.Before }.OfType<string>())
            if (known.Promotions.All(promotion => promotion.Id != id))
                return Answers.NoPromotion(id);
        if (move.Id == move.Before)
            return Answers.Refused("/before", ProblemCode.NotAllowed, "A promotion cannot go before itself. Name another.");
        return Results.Ok(RankMove.Of(known.Promotions, move.Id, move.Before).Select(change => Ranked(change.Promotion.Id, change.Rank)));

        ChangedDraft Ranked(string id, int rank)
        {
            var stored = promotions.Find(id)!;
            var was = JsonNode.Parse(stored.Shown)!.AsObject();
            var document = was.DeepClone().AsObject();
            document["rank"] = rank;
            var now = known.Promotions.First(promotion => promotion.Id == id);
            return new(
                id,
                now.Named,
                stored.Revision,
                JsonSerializer.SerializeToElement(document),
                JsonSerializer.SerializeToElement(was),
                stored.Draft is not null,
                $"rank {rank}, was {now.Rank}"
            );
        }
    }

    private static bool IsKeptApart(Promotion one, Promotion other, OpenShop shop) =>
        one.Rewards is not [Markdown] && other.Rewards is not [Markdown] && !shop.Live.Rulebook.CanMeet(one, other);
}
