namespace RapidLedger.Pricing;

/// <summary>One rule: how it starts, for whom, when, what it gives, from when to when, how often, beside what.</summary>
/// <param name="Id">The name used in files; unique.</param>
/// <param name="Rewards">What it gives; at least one.</param>
/// <param name="Name">What the merchant calls it.</param>
/// <param name="Label">What the shopper reads.</param>
/// <param name="Note">Why it exists.</param>
/// <param name="State">Whether it runs.</param>
/// <param name="Rank">Order of application; lower goes first.</param>
/// <param name="Trigger">How it starts.</param>
/// <param name="Window">From when to when; none: always.</param>
/// <param name="When">What must be true; none: nothing.</param>
/// <param name="Limits">How often in all.</param>
/// <param name="Stacking">Which promotions it meets.</param>
/// <param name="Says">What it says to the shopper in its own words.</param>
/// <param name="Labels">What the shopper reads by language, if it is said so; then <paramref name="Label"/> is the first of them.</param>
public sealed record Promotion(
    string Id,
    EquatableArray<Reward> Rewards,
    string? Name = null,
    string? Label = null,
    string? Note = null,
    State State = State.Live,
    int Rank = Promotion.DefaultRank,
    Trigger? Trigger = null,
    Window? Window = null,
    Condition? When = null,
    Limits? Limits = null,
    Stacking? Stacking = null,
    Says? Says = null,
    Texts? Labels = null
)
{
    /// <summary>The rank of a promotion that names none.</summary>
    public const int DefaultRank = 100;

    /// <summary>The order of application: by rank, then by id, compared by ordinal.</summary>
    public static readonly Comparer<Promotion> Order = Comparer<Promotion>.Create(
        (left, right) => left.Rank != right.Rank ? left.Rank.CompareTo(right.Rank) : string.CompareOrdinal(left.Id, right.Id)
    );

    /// <summary>What the shopper reads, else what the merchant calls it, else the id.</summary>
    public string Shown => Label is { Length: > 0 } label ? label : Named;

    /// <summary>Whether a shop may announce it at a place. A code is never shown there unless it is one of the offers of today.</summary>
    public bool ShownAt(Showing place) => Says?.Show is { Count: > 0 } show ? show.Contains(place) : place == Showing.Basket;

    /// <summary>The credit that it pays with, if it is one: it stands alone in its promotion; null: it is none.</summary>
    public Credit? Card => Rewards is [Credit credit] ? credit : null;

    /// <summary>Whether a code has to be entered for it.</summary>
    public bool IsByCode => Trigger is { IsAutomatic: false };

    /// <summary>What the merchant calls it, else the id.</summary>
    public string Named => Name is { Length: > 0 } name ? name : Id;
}

/// <summary>Whether a promotion runs.</summary>
public enum State
{
    /// <summary>Written, never started.</summary>
    Draft,

    /// <summary>Runs within its window.</summary>
    Live,

    /// <summary>Stopped for now.</summary>
    Paused,

    /// <summary>Retired.</summary>
    Archived,
}
