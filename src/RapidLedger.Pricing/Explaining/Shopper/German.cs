using System.Globalization;

namespace RapidLedger.Pricing;

/// <summary>What shoppers read in German.</summary>
internal sealed class German : ShopperTongue
{
    private static readonly RewardKinds<Func<Reward, Wording, string>> Rewards = new()
    {
        Discount = (reward, wording) => reward is Discount discount ? Say(discount, wording) : "",
        BuyGet = (reward, _) =>
            reward is BuyGet { Deal: Deal.ByQuantity(var buy, var get, _), Take: Take.Percentage { Percent.Value: 100 } }
                ? $"{buy} kaufen, {get} gratis dazu"
                : "ein weiteres Stück günstiger",
        Ladder = (_, _) => "mehr Rabatt bei mehr Ware",
        Bundle = (_, _) => "zusammen günstiger",
        Gift = (_, _) => "ein Geschenk",
        Markdown = (_, _) => "ein niedrigerer Preis",
        Shipping = (reward, _) =>
            reward is Shipping { Take: Take.Percentage { Percent.Value: 100 } } ? "kostenlose Lieferung" : "günstigere Lieferung",
        Points = (_, _) => "Punkte",
        Credit = (_, _) => "ein Guthaben",
    };

    public override string Language => "de";

    public override CultureInfo? Culture { get; } = CultureInfo.GetCultureInfo("de-DE");

    public override string UnknownCode => "Diesen Code kennen wir nicht.";

    public override string TooManyCodes => "Es wurden zu viele Codes probiert. Bitte warten Sie eine Minute.";

    public override string Say(Reason reason, Wording wording) =>
        reason switch
        {
            Reason.CodeNotEntered => "Bitte geben Sie den Code ein.",
            Reason.CodeSpent { Fault: CodeFault.UsedUp } => "Dieser Code wurde schon eingelöst.",
            Reason.CodeSpent { Fault: CodeFault.Void } => "Dieser Code ist nicht mehr gültig.",
            Reason.CodeSpent(_, _, var last) => $"Dieser Code war bis {wording.Say(last!.Value)} gültig.",
            Reason.NotNeeded => "Ein anderer Ihrer Codes wurde eingelöst.",
            Reason.NotStarted(var opens, _) => $"Beginnt am {wording.Say(opens)}.",
            Reason.BetweenOccurrences(var opens, _) => $"Wieder ab {wording.Say(opens)}.",
            Reason.Ended => "Dieses Angebot ist beendet.",
            Reason.LimitReached { Limit: Limit.PerShopper } => "Sie haben dieses Angebot schon genutzt.",
            Reason.LimitReached => "Dieses Angebot ist vergriffen.",
            Reason.ConditionNotMet([var gap]) => Say(gap, wording),
            Reason.ConditionNotMet => "Gilt noch nicht für diesen Warenkorb.",
            Reason.NoMatchingItems(var why) => Say(why, wording),
            Reason.GiftOut => "Die Geschenke sind vergriffen.",
            Reason.NothingLeft => "Es ist nichts mehr zu bezahlen.",
            Reason.CannotMeet(var by, _, _) => $"Nicht zusammen mit {And(by.Select(wording.Label))}.",
            Reason.NotBetter(Verdict.Same or Verdict.LeftNothing or Verdict.OtherMarkdown, _, _, _) =>
                "Sie zahlen ohne den Code schon genauso wenig.",
            Reason.NotBetter(Verdict.Less, _, _, false) => "Ohne den Code zahlen Sie weniger.",
            Reason.NotBetter(_, var beside, _, _) => $"Nicht zusammen mit {And(beside.Select(wording.Label))}.",
            Reason.Failed => "Dieses Angebot kann gerade nicht genutzt werden.",
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    public override string Say(Nudge nudge, Wording wording) =>
        $"{Capital(Missing(nudge.Measure, nudge.Missing, nudge.Of, wording))}: {wording.Label(nudge.Promotion)}.";

    public override string Missing(Measure measure, long missing, Selection? of, Wording wording) =>
        measure == Measure.Spend
            ? $"noch {wording.Say(missing)}{From(of, wording)}"
            : $"noch {missing} {(of is null || of.IsEverything ? "Artikel" : "Stück")}{From(of, wording)}";

    public override string Reward(Reward reward, Wording wording) => reward.In(Rewards)(reward, wording);

    public override string Applied(string label, long saved, Wording wording) =>
        saved == 0 ? label : $"{label}: Sie sparen {wording.Say(saved)}.";

    public override string Step(string label, string? missing, Wording wording) =>
        missing is null ? $"{label}: erreicht." : $"{Capital(missing)}: {label}.";

    public override string And(IEnumerable<string> words) => Wording.Join(words, "und");

    public override string Or => "oder";

    public override string Not => "nicht";

    public override string Takes(Condition condition, Wording wording) =>
        condition switch
        {
            Spend(var of, { } from, null, _) => $"ab {wording.Say(from)}{From(of, wording)}",
            Spend(var of, null, { } to, _) => $"bis {wording.Say(to)}{From(of, wording)}",
            Spend(var of, { } from, { } to, _) => $"von {wording.Say(from)} bis {wording.Say(to)}{From(of, wording)}",
            Quantity(var of, var comparison, var number) => $"{Range(comparison, number)} Stück{From(of, wording)}",
            Distinct(var of, var comparison, var number) => $"{Range(comparison, number)} verschiedene Artikel{From(of, wording)}",
            Only(var of) => $"wenn sonst nichts im Warenkorb ist{From(of, wording)}",
            Weight(var comparison, var grams) => $"{Range(comparison, grams)} g",
            Destination(var places) => Where(places, wording),
            Channel(var names) => $"über {Wording.Join(names, "oder")}",
            PaidIn(var currencies) => $"bezahlt in {Wording.Join(currencies.Select(currency => currency.Code), "oder")}",
            Method(var ids) => $"mit Lieferung {wording.Methods(ids)}",
            Buyer.Guest => "für Gäste",
            Buyer.SignedIn => "nach der Anmeldung",
            Buyer.InGroup(var groups) => $"für {Wording.Join(groups, "oder")}",
            Buyer.OneOf => "für Sie",
            Buyer.Orders(Comparison.Exactly, 0) => "bei der ersten Bestellung",
            Buyer.Orders(var comparison, var number) => $"nach {Range(comparison, number)} Bestellungen",
            Buyer.Spent({ } from, _) => $"nach Einkäufen von {wording.Say(from)}",
            Buyer.Spent(_, { } to) => $"bis zu Einkäufen von {wording.Say(to)}",
            _ => "für manche Warenkörbe",
        };

    private static string Range(Comparison comparison, long number) =>
        OrMore(comparison, number) is { } least ? $"ab {least}"
        : OrFewer(comparison, number) is { } most ? $"bis {most}"
        : comparison == Comparison.Exactly ? $"genau {number}"
        : $"jede Zahl außer {number}";

    private static string Where(Places places, Wording wording)
    {
        var outside = places.Out.Count == 0 ? "" : $"nicht in {Wording.Join(places.Out.Select(wording.Say), "oder")}";
        return places.In is { } inside
                ? $"in {Wording.Join(inside.Select(wording.Say), "oder")}{(outside.Length == 0 ? "" : $", {outside}")}"
            : outside.Length == 0 ? "mit einem Lieferziel"
            : outside;
    }

    private static string Say(Discount discount, Wording wording) =>
        discount.Take switch
        {
            Take.Percentage(var percent) => $"{wording.Say(percent)} Rabatt",
            Take.Off(var amount) => $"{wording.Say(amount)} Rabatt{(discount.Per == Per.Cart ? "" : " je Stück")}",
            Take.To(var price) => $"zum Preis von {wording.Say(price)}",
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    private static string Say(Gap gap, Wording wording) =>
        gap switch
        {
            Gap.SpendShort(var of, var spent, var from, _) => $"Es fehlen {wording.Say(from - spent)}{From(of, wording)}.",
            Gap.SpendOver(_, _, var to, _) => $"Gilt nur bis {wording.Say(to)}.",
            Gap.UnitsOff(var of, var units, var comparison, var number) when comparison.Least(units, number) is { } least =>
                $"Es fehlen {least - units} Stück{From(of, wording)}.",
            Gap.KindsOff(var of, var kinds, var comparison, var number) when comparison.Least(kinds, number) is { } least =>
                $"Es fehlen {least - kinds} verschiedene Artikel{From(of, wording)}.",
            Gap.WeightOff => "Gilt nicht für dieses Gewicht.",
            Gap.OtherPlace => "Gilt nicht für dieses Lieferziel.",
            Gap.OtherBuyer => "Gilt nicht für dieses Konto.",
            Gap.OtherCurrency or Gap.OtherChannel or Gap.OtherMethod => "Gilt nicht für diese Art der Bestellung.",
            _ => "Gilt nicht für diesen Warenkorb.",
        };

    private static string Say(Idleness why, Wording wording) =>
        why switch
        {
            Idleness.EmptyCart => "Ihr Warenkorb ist leer.",
            Idleness.TooFew(var of, var have, var need, _, false) => $"Es fehlen {need - have} Stück{From(of, wording)}.",
            Idleness.LacksUnits(var of, var missing) => $"Es fehlen {missing} Stück{From(of, wording)}.",
            Idleness.ComesToTooLittle(var of, var spent, var need) => $"Es fehlen {wording.Say(need - spent)}{From(of, wording)}.",
            Idleness.NoDelivery => "Es gibt keine Lieferung zu bezahlen.",
            Idleness.OtherMethod => "Gilt nicht für diese Lieferart.",
            Idleness.CardUsedUp => "Diese Karte ist aufgebraucht.",
            Idleness.NothingToTake
            or Idleness.NothingLeftToTake
            or Idleness.PaysTooLittle
            or Idleness.HigherStepCounts
            or Idleness.SetNeedsMore => "Das ändert an diesem Warenkorb nichts.",
            _ => "Nichts in Ihrem Warenkorb gehört zu diesem Angebot.",
        };

    // Names stay as the shop writes them.
    private static string From(Selection? of, Wording wording) =>
        of is null || of.IsEverything
            ? ""
            : $" aus {Wording.Join(of.In.Select(term => term is Term.All ? "allem" : wording.Say(term)), "oder")}";

    private static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];
}
