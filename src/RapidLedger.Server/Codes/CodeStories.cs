using NodaTime;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Codes;

/// <summary>Finds what is known of a code, wherever it is looked up.</summary>
internal sealed class CodeStories(OpenShop shop, CodeRepository codes, IClock clock)
{
    /// <summary>The story of a code; null: nobody knows it.</summary>
    public CodeStory? Of(string entered)
    {
        var normal = Trigger.Normal(entered);
        var own = shop.Promotions.FirstOrDefault(promotion =>
            promotion.Read.Promotion?.Trigger?.Codes.Any(code => Trigger.Normal(code) == normal) == true
        );
        if (own is not null)
        {
            var uses = shop.UsageAt(clock.GetCurrentInstant()).GetValueOrDefault(own.Stored.Id)?.Total ?? 0;
            return new(
                normal,
                $"The code of “{own.Name}”, which is {Words(own.Stored.State)}; {(uses == 0 ? "not used yet" : $"used by {Wording.Counted(uses, "order")}")}.",
                own.Stored.Id,
                own.Name,
                null,
                false,
                uses,
                [],
                shop.LinkTo(normal)
            );
        }

        var bare = Trigger.Bare(normal);
        if (codes.Find(bare) is not { } found || codes.FindBatch(found.BatchId) is not { } batch)
            return null;
        var of = shop.Promotions.FirstOrDefault(promotion => promotion.Read.Promotion?.Trigger?.Batches.Contains(batch.Id) == true);
        var standing = OpenShop.Standing(codes.Standing([bare]))[bare];
        var card = of?.Read.Promotion?.Card;
        var isCard = card is not null;
        var state = standing.FaultOn(
            clock.GetCurrentInstant().InZone(shop.Store.Zone).Date,
            card?.Held(shop.Store.Currency, shop.Store, standing.Drawn)
        ) switch
        {
            CodeFault.UsedUp => "used up",
            CodeFault.Void => batch.Void ? "void with its whole batch" : "void",
            CodeFault.Ended => $"ended after {batch.LastDay}",
            _ => "good",
        };
        var story =
            $"A {(isCard ? "card" : "code")} of the batch {batch.Id} ({batch.Note}), made {shop.Wording.Say(NodaTime.Text.InstantPattern.ExtendedIso.Parse(batch.MadeAt).Value)}; "
            + (of is null ? "no promotion has the batch yet; " : $"it starts “{of.Name}”; ")
            + $"it is {state}, used by {(batch.UsesEach is { } each && !isCard ? $"{found.Used} of {Wording.Counted(each, "order")}" : Wording.Counted(found.Used, "order"))}"
            + (found.Drawn > 0 ? $", {shop.Wording.Say(found.Drawn)} drawn." : ".");
        return new(
            found.Written,
            story,
            of?.Stored.Id,
            of?.Name,
            batch.Id,
            found.Void || batch.Void,
            found.Used,
            codes.OrdersOf(bare),
            shop.LinkTo(found.Written)
        );
    }

    private static string Words(string state) =>
        state switch
        {
            "archived" => "retired",
            "draft" => "a draft",
            _ => state,
        };
}
