namespace RapidLedger.Pricing;

/// <summary>Who buys; each is one way to tell.</summary>
public abstract record Buyer : Condition
{
    private Buyer() { }

    /// <summary>Nobody is signed in.</summary>
    public sealed record Guest : Buyer
    {
        internal override bool Is(Shopper? shopper) => shopper is null;
    }

    /// <summary>Somebody is signed in.</summary>
    public sealed record SignedIn : Buyer
    {
        internal override bool Is(Shopper? shopper) => shopper is not null;
    }

    /// <summary>The shopper is in one of the groups.</summary>
    public sealed record InGroup(EquatableArray<string> Groups) : Buyer
    {
        internal override bool Is(Shopper? shopper)
        {
            if (shopper is not null)
                foreach (var group in shopper.Groups)
                    if (Groups.Span.Contains(group))
                        return true;
            return false;
        }
    }

    /// <summary>The shopper is one of these.</summary>
    public sealed record OneOf(EquatableArray<string> Ids) : Buyer
    {
        internal override bool Is(Shopper? shopper) => shopper?.Id is { } id && Ids.Span.Contains(id);
    }

    /// <summary>The number of past orders compares so; a guest has none.</summary>
    public sealed record Orders(Comparison Comparison, long Number) : Buyer
    {
        internal override bool Is(Shopper? shopper) => Comparison.Holds(shopper?.Orders ?? 0, Number);
    }

    /// <summary>Lifetime spend is within bounds, both included, in minor units of the base currency; a guest has spent nothing.</summary>
    public sealed record Spent(long? From, long? To) : Buyer
    {
        internal override bool Is(Shopper? shopper) => (shopper?.Spent ?? 0) is var spent && !(spent < From) && !(spent > To);
    }

    internal abstract bool Is(Shopper? shopper);

    /// <inheritdoc/>
    public override T In<T>(ConditionKinds<T> kinds) => kinds.Shopper;

    internal override ConditionSpeech Speak(Wording wording) => ConditionWords.Speak(this, wording);

    internal override Test Compile(Compiler compiler) => new Ready(this);

    private sealed class Ready(Buyer written) : Test
    {
        public override IEnumerable<int>? Touches => null;

        public override IEnumerable<string>? Countries => null;

        public override bool Holds(CartView cart) => written.Is(cart.Cart.Shopper);

        public override IEnumerable<Gap> Gaps(CartView cart)
        {
            if (!Holds(cart))
                yield return new Gap.OtherBuyer(written);
        }
    }
}
