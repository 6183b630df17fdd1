namespace RapidLedger.Pricing;

/// <summary>A take that can give less: from nothing to what it gives as it is written, in whole percent or minor units.</summary>
internal sealed class SmallerTake
{
    private readonly Func<long, Take> of;
    private readonly Func<long, (string Words, string Member, object Value)> written;
    private readonly long asWritten;

    private SmallerTake(long asWritten, Func<long, Take> of, Func<long, (string, string, object)> written) =>
        (this.asWritten, this.of, this.written) = (asWritten, of, written);

    /// <summary>All that a take could be instead; null: it names other currencies, of which each would have to be changed.</summary>
    /// <param name="take">As it is written.</param>
    /// <param name="dearest">The dearest price that it takes from, in minor units of the base currency.</param>
    /// <param name="store">The shop.</param>
    public static SmallerTake? Of(Take take, long dearest, Store store)
    {
        var currency = store.Currency;
        return take switch
        {
            Take.Percentage(var percent) => new(
                (long)Math.Ceiling(percent.Value),
                value => new Take.Percentage(Percent.From(value)!.Value),
                value => ($"{value} %", "percent", (decimal)value)
            ),
            Take.Off({ Named: [var off] }) when off.Currency == currency => new(
                off.Minor,
                value => new Take.Off(Amount.In(currency, value)),
                value => ($"{currency.Write(value)} off", "amount", currency.Write(value))
            ),
            Take.To({ Named: [var price] }) when price.Currency == currency => new(
                Math.Max(0, dearest - price.Minor),
                value => new Take.To(Amount.In(currency, dearest - value)),
                value => ($"at {currency.Write(dearest - value)}", "price", currency.Write(dearest - value))
            ),
            _ => null,
        };
    }

    /// <summary>
    /// The most that is not too much, by halves: what is left only falls with what is taken. Null: anything is too much, or what is written
    /// is not.
    /// </summary>
    public long? Most(Func<Take, bool> keeps)
    {
        var (kept, tooMuch) = (0L, asWritten);
        if (tooMuch == 0 || keeps(of(tooMuch)))
            return null;
        while (tooMuch - kept > 1)
        {
            var tried = kept + ((tooMuch - kept) / 2);
            if (keeps(of(tried)))
                kept = tried;
            else
                tooMuch = tried;
        }

        return kept == 0 ? null : kept;
    }

    /// <summary>The change to so much.</summary>
    /// <param name="value">What <see cref="Most"/> came to.</param>
    /// <param name="at">Where the take stands: a JSON pointer.</param>
    /// <param name="why">Behind the figure: "the most that…".</param>
    public Mend Mend(long value, string at, string why)
    {
        var (words, member, content) = written(value);
        return new($"{words}, {why}", $"{at}/{member}", content);
    }
}
