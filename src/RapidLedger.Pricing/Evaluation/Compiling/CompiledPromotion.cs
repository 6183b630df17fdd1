namespace RapidLedger.Pricing;

/// <summary>A live promotion made ready for one store and catalogue.</summary>
internal sealed class CompiledPromotion
{
    private Named? named;

    private CompiledPromotion(Promotion promotion, Compiler compiler)
    {
        Promotion = promotion;
        compiler.Promotion = promotion.Id;
        Codes = CodesOf(promotion);
        Batches = BatchesOf(promotion);
        Window = promotion.Window?.In(compiler.Store.Zone) ?? OpenWindow.Always;
        Occurrences = promotion.Window is { } window ? Occurrences.Of(window, compiler.Store.Zone) : null;
        When = promotion.When?.Compile(compiler);
        Rewards = [.. promotion.Rewards.SelectMany(reward => reward.Compile(compiler)).OrderBy(reward => reward.Stage)];
        Stages = [.. Rewards.Select(reward => reward.Stage).Distinct()];
        GivesBeside = Stages.Any(stage => stage is Stage.Gift or Stage.Points);
        Passes = [.. promotion.Rewards.SelectMany(reward => reward.Passes).Distinct()];
        After = [.. AfterConditions(promotion.When).Select(spend => new AfterSpend(spend, compiler))];
        Markdown = promotion.Rewards is [Markdown markdown] ? new(markdown, compiler) : null;
        Credit = promotion.Card;
        Stacking = promotion.Stacking ?? Stacking.Any;
        IsOfOnePerCartFamily =
            Stacking.Family is { } name && compiler.Store.Families.Any(family => family.Name == name && family.OnePerCart);
        var touches = Credit is not null ? [null] : Rewards.Select(reward => reward.Touches).Append(Markdown?.Touches ?? []).ToArray();
        var byReward = touches.Any(terms => terms is null) ? null : touches.SelectMany(terms => terms!);
        Touches = Narrow(byReward) ?? Narrow(When?.Touches);

        // What every cart holds tells nothing.
        int[]? Narrow(IEnumerable<int>? terms) =>
            terms is null || terms.Contains(compiler.Catalogue.Everything) ? null : [.. terms.Distinct()];
    }

    private CompiledPromotion(Promotion promotion, string failure) =>
        (Promotion, Failure, Codes, Batches, Window, Stacking, Rewards, Stages, Passes, After) = (
            promotion,
            failure,
            CodesOf(promotion),
            BatchesOf(promotion),
            OpenWindow.Always,
            promotion.Stacking ?? Stacking.Any,
            [],
            [],
            [],
            []
        );

    public Promotion Promotion { get; }

    /// <summary>Why it cannot be priced; null: it can.</summary>
    public string? Failure { get; }

    /// <summary>Its own codes, in normal form.</summary>
    public HashSet<string> Codes { get; }

    /// <summary>The batches of which every code starts it.</summary>
    public HashSet<string> Batches { get; }

    /// <summary>Whether it starts without a code.</summary>
    public bool IsAutomatic => Codes.Count == 0 && Batches.Count == 0;

    public OpenWindow Window { get; }

    /// <summary>When within its window it is open, if it repeats.</summary>
    public Occurrences? Occurrences { get; }

    public Test? When { get; }

    /// <summary>What the running prices must come to when its first pass begins.</summary>
    public AfterSpend[] After { get; }

    /// <summary>The markdown it is, if it is one.</summary>
    public ReadyMarkdown? Markdown { get; }

    /// <summary>The credit it is, if it is one.</summary>
    public Credit? Credit { get; }

    public Stacking Stacking { get; }

    /// <summary>By stage, and within one in the order written.</summary>
    public ReadyReward[] Rewards { get; }

    /// <summary>The stages it acts in, in order.</summary>
    public Stage[] Stages { get; }

    /// <summary>Whether it gives gifts or points, which count beside what the cart holds.</summary>
    public bool GivesBeside { get; }

    public Pass[] Passes { get; }

    public bool IsOfOnePerCartFamily { get; }

    /// <summary>Whether it keeps nobody out itself.</summary>
    public bool AllowsAny => Stacking.Allow == Allow.Any && !IsOfOnePerCartFamily;

    /// <summary>The terms of which a cart must hold one for it to have an effect; null if any cart will do.</summary>
    public int[]? Touches { get; }

    /// <summary>Makes a promotion ready; one with which anything goes wrong is kept, to be shown as what is wrong.</summary>
    public static CompiledPromotion Of(Promotion promotion, Compiler compiler)
    {
        try
        {
            return new(promotion, compiler);
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            return new(promotion, error.Message);
        }
    }

    /// <summary>The same promotion, kept from acting because something went wrong with it.</summary>
    public CompiledPromotion FailedWith(Exception error) => new(Promotion, error.Message);

    /// <summary>Whether the two may stand in one cart: each allows the other, and no family that allows one has both.</summary>
    public bool CanMeet(CompiledPromotion other) =>
        Allows(other) && other.Allows(this) && !(IsOfOnePerCartFamily && Stacking.Family == other.Stacking.Family);

    /// <summary>Whether a code is one of its own, or of one of its batches.</summary>
    public bool IsStartedBy(EnteredCode code) =>
        Codes.Contains(code.Normal) || (code.OfBatch is { } batch && Batches.Contains(batch.Batch));

    private static HashSet<string> CodesOf(Promotion promotion) =>
        (promotion.Trigger ?? Trigger.Automatic).Codes.Select(Trigger.Normal).ToHashSet(StringComparer.Ordinal);

    private static HashSet<string> BatchesOf(Promotion promotion) =>
        (promotion.Trigger ?? Trigger.Automatic).Batches.ToHashSet(StringComparer.Ordinal);

    /// <summary>
    /// Whether it allows the other beside it. A credit is the shopper's own means of payment: only "except" keeps it out.
    /// </summary>
    public bool Allows(CompiledPromotion other) =>
        Stacking.Allow switch
        {
            Allow.Any => true,
            Allow.None => other.Credit is not null,
            Allow.Only => other.Credit is not null || Names(other),
            _ => !Names(other),
        };

    private static IEnumerable<Spend> AfterConditions(Condition? when) =>
        when switch
        {
            Spend { Basis: Basis.After } spend => [spend],
            AllOf(var parts) => parts.OfType<Spend>().Where(spend => spend.Basis == Basis.After),
            _ => [],
        };

    private bool Names(CompiledPromotion other) => (named ??= new(Stacking)).Holds(other);

    // The entries of the stacking rule: of many promotions that touch a cart each is asked about all others.
    private sealed class Named(Stacking stacking)
    {
        private readonly HashSet<string> promotions = [.. stacking.With.OfType<StackingEntry.OfPromotion>().Select(entry => entry.Id)];
        private readonly HashSet<string> families = [.. stacking.With.OfType<StackingEntry.OfFamily>().Select(entry => entry.Name)];
        private readonly Pass[] passes = [.. stacking.With.OfType<StackingEntry.InPass>().Select(entry => entry.Pass)];

        public bool Holds(CompiledPromotion other) =>
            promotions.Contains(other.Promotion.Id)
            || (other.Stacking.Family is { } family && families.Contains(family))
            || Array.Exists(passes, pass => other.Passes.AsSpan().Contains(pass));
    }
}
