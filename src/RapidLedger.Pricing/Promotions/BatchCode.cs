using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>One of the many codes of a batch, as it stands. In a batch of a credit it is a card, with what was drawn from it.</summary>
/// <param name="Batch">The batch it is of.</param>
/// <param name="IsVoid">It, or its whole batch, was made void.</param>
/// <param name="Used">Orders that have used it.</param>
/// <param name="UsesEach">Orders that may use it; null: any number.</param>
/// <param name="LastDay">The last of the store's days on which it is good; none: always.</param>
/// <param name="Drawn">Of a card: what has been drawn, in minor units of the base currency.</param>
public sealed record BatchCode(
    string Batch,
    bool IsVoid = false,
    long Used = 0,
    long? UsesEach = 1,
    LocalDate? LastDay = null,
    long Drawn = 0
)
{
    /// <summary>What keeps it from being used on a day; null: it is good.</summary>
    /// <param name="day">A day of the store.</param>
    /// <param name="held">Of a card: what is on it, however often it was used; null: it is no card.</param>
    public CodeFault? FaultOn(LocalDate day, long? held)
    {
        if (held is { } rest ? rest == 0 : Used >= UsesEach)
            return CodeFault.UsedUp;
        if (IsVoid)
            return CodeFault.Void;
        return day > LastDay ? CodeFault.Ended : null;
    }
}

/// <summary>Why a code of a batch cannot be used.</summary>
public enum CodeFault
{
    /// <summary>It has been used as often as it may be, or nothing is left on the card.</summary>
    UsedUp,

    /// <summary>It was made void.</summary>
    Void,

    /// <summary>Its last day is over.</summary>
    Ended,
}
