namespace RapidLedger.Pricing;

/// <summary>Holds when every part does; with no parts it holds.</summary>
public sealed record AllOf(EquatableArray<Condition> Parts) : Condition
{
    /// <inheritdoc/>
    public override T In<T>(ConditionKinds<T> kinds) => kinds.All;

    internal override ConditionSpeech Speak(Wording wording) => ConditionWords.Speak(this, wording);

    internal override Test Compile(Compiler compiler) => new Ready([.. Parts.Select(part => part.Compile(compiler))]);

    private sealed class Ready(Test[] parts) : Test
    {
        public override IEnumerable<int>? Touches => parts.Select(part => part.Touches).FirstOrDefault(terms => terms is not null);

        public override IEnumerable<string>? Countries =>
            parts.Select(part => part.Countries).FirstOrDefault(countries => countries is not null);

        public override bool Holds(CartView cart)
        {
            foreach (var part in parts)
                if (!part.Holds(cart))
                    return false;
            return true;
        }

        public override IEnumerable<Gap> Gaps(CartView cart) => parts.Where(part => !part.Holds(cart)).SelectMany(part => part.Gaps(cart));
    }
}

/// <summary>Holds when one part does; with no parts it does not.</summary>
public sealed record AnyOf(EquatableArray<Condition> Parts) : Condition
{
    /// <inheritdoc/>
    public override T In<T>(ConditionKinds<T> kinds) => kinds.Any;

    internal override ConditionSpeech Speak(Wording wording) => ConditionWords.Speak(this, wording);

    internal override Test Compile(Compiler compiler) => new Ready([.. Parts.Select(part => part.Compile(compiler))]);

    private sealed class Ready(Test[] parts) : Test
    {
        public override IEnumerable<int>? Touches =>
            parts.All(part => part.Touches is not null) ? parts.SelectMany(part => part.Touches!).Distinct() : null;

        public override IEnumerable<string>? Countries =>
            parts.All(part => part.Countries is not null) ? parts.SelectMany(part => part.Countries!).Distinct() : null;

        public override bool Holds(CartView cart)
        {
            foreach (var part in parts)
                if (part.Holds(cart))
                    return true;
            return false;
        }

        // One part is enough, so the one that lacks least is told; where there is none, nothing could help.
        public override IEnumerable<Gap> Gaps(CartView cart) =>
            parts.Select(part => part.Gaps(cart).ToArray()).Where(gaps => gaps.Length > 0).MinBy(gaps => (gaps.Length, Gap.Distance(gaps)))
            ?? [new Gap.Never()];
    }
}

/// <summary>Holds when no part does; with no parts it holds.</summary>
public sealed record NoneOf(EquatableArray<Condition> Parts) : Condition
{
    /// <inheritdoc/>
    public override T In<T>(ConditionKinds<T> kinds) => kinds.None;

    internal override ConditionSpeech Speak(Wording wording) => ConditionWords.Speak(this, wording);

    internal override Test Compile(Compiler compiler) => new Ready([.. Parts.Select(part => (part, part.Compile(compiler)))]);

    private sealed class Ready((Condition Written, Test Test)[] parts) : Test
    {
        public override IEnumerable<int>? Touches => null;

        public override IEnumerable<string>? Countries => null;

        public override bool Holds(CartView cart)
        {
            foreach (var (_, test) in parts)
                if (test.Holds(cart))
                    return false;
            return true;
        }

        public override IEnumerable<Gap> Gaps(CartView cart) =>
            parts.Where(part => part.Test.Holds(cart)).Select(part => new Gap.Unwanted(part.Written));
    }
}
