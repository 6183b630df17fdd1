using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Promotions;

/// <summary>A number of a draft that is to give as much as it can.</summary>
/// <param name="Cart">As in a case: who buys, and where it goes.</param>
/// <param name="Draft">The promotion as typed.</param>
/// <param name="At">Where the number stands in it: a JSON pointer.</param>
/// <param name="Share">Of the items, how many percent have to keep the floor; none: all.</param>
internal sealed record MostRequest(JsonElement Cart, JsonElement Draft, string At, int? Share = null);

/// <summary>The most that a number can give.</summary>
/// <param name="Value">As it stands in the document then; null: none keeps the floor, or it cannot be told.</param>
/// <param name="Sentence">In words, with what lets it go no further.</param>
internal sealed record MostAnswer(JsonElement? Value, string Sentence);

/// <summary>Finds the most that a number of a draft can give while the margin floor is kept.</summary>
internal static class MostEndpoints
{
    private const int MostUnits = 1_000;

    public static void MapMost(this IEndpointRouteBuilder routes) =>
        routes
            .MapPost("/api/most", (MostRequest request, OpenShop shop, IClock clock, BackgroundGate gate, HttpContext context) =>
                gate.Run(gone => Find(request, shop, clock, gone), context)
            )
            .Produces<MostAnswer>()
            .Refuses(400, 413, 415, 422, 429, 503)
            .Says("most", "review", "The most that a number may give");

    private static IResult Find(MostRequest request, OpenShop shop, IClock clock, CancellationToken gone)
    {
        if (request.Draft.ValueKind != JsonValueKind.Object)
            return Answers.Refused("/draft", ProblemCode.WrongType, "A promotion is an object.");
        var cart = shop.ReadCart(request.Cart, clock.GetCurrentInstant());
        if (cart.Value is null)
            return Answers.Refused(cart.Problems.Under("/cart"));
        if (request.Share is < 1 or > 100)
            return Answers.Refused("/share", ProblemCode.OutOfRange, "A share from 1 to 100 percent is expected.");
        var floor = shop.Store.MarginFloor ?? Percent.From(0)!.Value;
        if (NumberAt(request.At, shop) is not { } number || Place(JsonNode.Parse(request.Draft.GetRawText())!, request.At) is null)
            return Answers.Refused(
                "/at",
                ProblemCode.NotAllowed,
                "There is no number here that gives more or less: a percentage, an amount, a price, a threshold or a number of units."
            );
        var most = MostItCanGive.Of(
            With,
            number.Least,
            number.Most,
            cart.Value,
            shop.Catalogue,
            floor,
            (request.Share ?? 100) / 100m,
            gone
        );
        var (all, one) = request.Share is null or 100 ? ("every item", true) : ($"{request.Share} % of the items", false);
        string Keeps(bool isOne) =>
            floor.Value > 0
                ? $"{(isOne ? "keeps" : "keep")} the floor of {shop.Wording.Say(floor)}"
                : $"{(isOne ? "is" : "are")} sold above cost";
        if (most.Items == 0)
            return Results.Ok(new MostAnswer(null, "No item shows what this number does; nothing can be told of it."));
        if (most.Value is not { } value)
            return Results.Ok(new MostAnswer(null, $"Whatever stands here, {shop.Wording.Item(most.Binding!)} no longer {Keeps(true)}."));
        var written = number.Write(value);
        return Results.Ok(
            new MostAnswer(
                JsonSerializer.SerializeToElement(written),
                most.Binding is null
                    ? $"{written}, the furthest there is: {all} {Keeps(one)} even then."
                    : $"{written} is the most with which {all} {Keeps(one)}; {shop.Wording.Item(most.Binding)} lets it go no further."
            )
        );

        Promotion? With(long value)
        {
            var document = JsonNode.Parse(request.Draft.GetRawText())!;
            Place(document, request.At)!.ReplaceWith(number.Write(value));
            return shop.Read(document.ToJsonString()).Promotion;
        }
    }

    // By the member's name: which way more is given, how far, and how it is written.
    private static Number? NumberAt(string pointer, OpenShop shop)
    {
        var parts = pointer.Split('/');
        if (parts[^1] == shop.Store.Currency.Code)
            parts = parts[..^1];
        var (member, holder) = (parts[^1], parts.Length > 1 ? parts[^2] : "");
        var (currency, dearest) = (shop.Store.Currency, Dearest(shop));
        return (member, holder) switch
        {
            ("percent", _) => new(0, 100, value => value),
            ("amount", "take") => new(0, dearest, value => currency.Write(value)),
            ("price", "take") => new(dearest, 0, value => currency.Write(value)),
            ("from", "spend") => new(dearest * 20, 0, value => currency.Write(value)),
            ("n", "quantity") or ("quantity", "buy") => new(MostUnits, 1, value => value),
            ("quantity", "get") => new(1, MostUnits, value => value),
            _ => null,
        };
    }

    private static long Dearest(OpenShop shop)
    {
        var prices = shop.Catalogue.PricesIn(shop.Store.Currency);
        return Enumerable.Range(0, shop.Catalogue.Count).Select(prices.Current).DefaultIfEmpty(1).Max();
    }

    private static JsonNode? Place(JsonNode document, string pointer)
    {
        var at = document;
        foreach (var step in pointer.Split('/').Skip(1))
        {
            at = at switch
            {
                JsonObject node => node[step],
                JsonArray list when int.TryParse(step, CultureInfo.InvariantCulture, out var place) && place >= 0 && place < list.Count =>
                    list[place],
                _ => null,
            };
            if (at is null)
                return null;
        }

        return pointer.Length == 0 ? null : at;
    }

    private sealed record Number(long Least, long Most, Func<long, object> Write);
}
