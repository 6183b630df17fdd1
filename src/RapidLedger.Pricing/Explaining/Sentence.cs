namespace RapidLedger.Pricing;

/// <summary>One clause of a promotion in words.</summary>
/// <param name="Name">Which of the clauses, in the order in which people decide: starts, for, when, gives, runs, until, alongside.</param>
/// <param name="Text">The words.</param>
/// <param name="Quiet">It says nothing special.</param>
public sealed record Clause(string Name, string Text, bool Quiet);

/// <summary>A promotion read back in plain words, clause by clause.</summary>
public static class Sentence
{
    /// <summary>The clauses, always all of them and in the same order.</summary>
    public static IReadOnlyList<Clause> Clauses(Promotion promotion, Wording wording)
    {
        var conditions = promotion.When switch
        {
            null => [],
            AllOf(var all) => all.ToArray(),
            var one => [one],
        };
        var whom = conditions.Select(condition => condition.Speak(wording).Whom).Where(one => one is not null).ToArray();
        var cart = conditions.Where(condition => condition.Speak(wording).Whom is null).ToArray();
        return
        [
            Starts(promotion.Trigger ?? Trigger.Automatic),
            whom.Length == 0 ? new("for", "For everyone", true) : new("for", $"For {string.Join(", ", whom)}", false),
            cart.Length == 0
                ? new("when", "Whatever is in the cart", true)
                : new("when", $"When {ConditionWords.Join(cart.ToEquatableArray(), "and", wording)}", false),
            new("gives", $"Gives {Wording.Join(promotion.Rewards.Select(reward => reward.Say(wording)), "and")}", false),
            Runs(promotion.Window, wording),
            Until(promotion.Limits, wording),
            Alongside(promotion.Stacking ?? Stacking.Any, wording),
            .. Words(promotion.Says),
        ];
    }

    // What it says in its own words, in every language.
    private static IEnumerable<Clause> Words(Says? says)
    {
        if (says is null)
            yield break;
        (string When, Texts? Texts)[] texts = [("when near", says.Near), ("when reached", says.Reached), ("when refused", says.Refused)];
        var said = texts
            .Where(entry => entry.Texts is not null)
            .Select(entry => $"{Wording.Join(entry.Texts!.Written.Select(text => $"“{text.Text}”"), "or")} {entry.When}")
            .ToArray();
        var shown = says
            .Show.Select(place =>
                place switch
                {
                    Showing.Item => "beside its items",
                    Showing.Basket => "in the basket",
                    _ => "among the offers of today",
                }
            )
            .ToArray();
        var words = string.Join(", ", said.Append(shown.Length == 0 ? null : $"shown {Wording.Join(shown, "and")}").OfType<string>());
        if (words.Length > 0)
            yield return new("says", said.Length > 0 ? $"Says {words}" : $"Is {words}", false);
    }

    /// <summary>The clauses that say something, as one sentence.</summary>
    public static string Say(Promotion promotion, Wording wording) =>
        string.Join(" · ", Clauses(promotion, wording).Where(clause => !clause.Quiet).Select(clause => clause.Text));

    private static Clause Starts(Trigger trigger)
    {
        if (trigger.IsAutomatic)
            return new("starts", "Starts by itself", true);
        var own =
            trigger.Codes.Count == 0
                ? null
                : $"the code {Wording.Join(trigger.Codes.Take(3).Select(Trigger.Normal), "or")}{(trigger.Codes.Count > 3 ? $" and {trigger.Codes.Count - 3} more" : "")}";
        var batches =
            trigger.Batches.Count == 0
                ? null
                : $"any code of the {Wording.Plural(trigger.Batches.Count, "batch", "batches")} {Wording.Join(trigger.Batches, "and")}";
        return new("starts", $"Starts by {Wording.Join(new[] { own, batches }.OfType<string>(), "or")}", false);
    }

    private static Clause Runs(Window? window, Wording wording)
    {
        if (window is null || (window.Start is null && window.End is null))
            return new("runs", "Runs without end", true);
        var words = (window.Start, window.End) switch
        {
            ({ } start, { } end) => $"Runs {wording.Say(start)} to {wording.SayEnd(end)}",
            ({ } start, null) => $"Runs from {wording.Say(start)}",
            (_, { } end) => $"Runs until {wording.SayEnd(end)}",
            _ => throw new System.Diagnostics.UnreachableException(),
        };
        if (window.Repeat is { } repeat)
            words = $"{words}, {RecurrenceWords.Say(repeat.Rule, window.Start, wording)} for {Lasts(repeat.Lasts)}";
        return new("runs", window.GraceMinutes == 0 ? words : $"{words}, {window.GraceMinutes} min grace", false);
    }

    private static string Lasts(NodaTime.Period lasts)
    {
        string[] words =
        [
            .. lasts.Weeks > 0 ? [Wording.Counted(lasts.Weeks, "week")] : Array.Empty<string>(),
            .. lasts.Days > 0 ? [Wording.Counted(lasts.Days, "day")] : Array.Empty<string>(),
            .. lasts.Hours > 0 ? [Wording.Counted(lasts.Hours, "hour")] : Array.Empty<string>(),
            .. lasts.Minutes > 0 ? [Wording.Counted(lasts.Minutes, "minute")] : Array.Empty<string>(),
        ];
        return Wording.Join(words, "and");
    }

    private static Clause Until(Limits? limits, Wording wording)
    {
        string[] words =
        [
            .. limits?.Total is { } total ? [Wording.Counted(total, "use")] : Array.Empty<string>(),
            .. limits?.PerShopper is { } shopper ? [$"{shopper} for each shopper"] : Array.Empty<string>(),
            .. limits?.PerDay is { } day ? [$"{day} a day"] : Array.Empty<string>(),
            .. limits?.Budget is { } budget ? [$"{wording.Say(budget, wording.Catalogue.Store.Currency)} given"] : Array.Empty<string>(),
        ];
        return words.Length == 0 ? new("until", "As often as it fits", true) : new("until", $"Until {string.Join(", ", words)}", false);
    }

    private static Clause Alongside(Stacking stacking, Wording wording)
    {
        var names = Wording.Join(stacking.With.Select(entry => Say(entry, wording)), "or");
        var family = stacking.Family is { } name ? $", of the family {name}" : "";
        return stacking.Allow switch
        {
            Allow.Any => new("alongside", $"Alongside anything{family}", family.Length == 0),
            Allow.None => new("alongside", $"Alongside nothing else{family}", false),
            Allow.Only => new("alongside", $"Alongside only {names}{family}", false),
            _ => new("alongside", $"Alongside anything but {names}{family}", false),
        };
    }

    private static string Say(StackingEntry entry, Wording wording) =>
        entry switch
        {
            StackingEntry.OfPromotion(var id) => wording.Promotion(id),
            StackingEntry.OfFamily(var name) => $"the family {name}",
            StackingEntry.InPass(Pass.Item) => "what takes from items",
            StackingEntry.InPass(Pass.Order) => "what takes from the order",
            StackingEntry.InPass(Pass.Shipping) => "what takes from delivery",
            _ => "credits",
        };
}
