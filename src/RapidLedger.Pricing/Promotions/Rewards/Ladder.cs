namespace RapidLedger.Pricing;

/// <summary>Rising thresholds, each with its own rewards.</summary>
/// <param name="Measure">What is measured, at current prices.</param>
/// <param name="Of">Of which units.</param>
/// <param name="Apply">Which of the reached steps count.</param>
/// <param name="Steps">Ascending; at least one.</param>
public sealed record Ladder(Measure Measure, Selection Of, StepsThatCount Apply, EquatableArray<LadderStep> Steps) : Reward
{
    /// <inheritdoc/>
    public override IEnumerable<Pass> Passes => Steps.SelectMany(step => step.Rewards).SelectMany(reward => reward.Passes).Distinct();

    /// <inheritdoc/>
    public override bool SetsUnitPrices => Steps.Any(step => step.Rewards.Any(reward => reward.SetsUnitPrices));

    /// <inheritdoc/>
    public override T In<T>(RewardKinds<T> kinds) => kinds.Ladder;

    internal override string Say(Wording wording) => LadderWords.Say(this, wording);

    internal override Reach ReachIn(CartExtent cart) =>
        Steps.SelectMany(step => step.Rewards).Aggregate(Reach.Nothing, (sum, reward) => sum + reward.ReachIn(cart));

    internal override IEnumerable<ReadyReward> Compile(Compiler compiler)
    {
        var of = compiler.Selection(Of);
        if (Apply == StepsThatCount.Beyond)
            return
            [
                new BeyondSteps(
                    of,
                    [.. Steps.Select(step => (Quantity: step.Quantity, Takes: compiler.Takes(((Discount)step.Rewards[0]).Take)))]
                ),
            ];
        return Steps.SelectMany(
            (step, number) =>
            {
                var next = Apply == StepsThatCount.Highest && number + 1 < Steps.Count ? Steps[number + 1] : null;
                var gate = new Gate(Measure, of, Threshold(step, compiler)!, Threshold(next, compiler), step.Rewards);
                return step.Rewards.SelectMany(reward => reward.Compile(compiler)).Select(reward => new OnStep(reward, gate));
            }
        );
    }

    private AmountTable? Threshold(LadderStep? step, Compiler compiler) =>
        step switch
        {
            null => null,
            { Spend: { } spend } => compiler.Amounts(spend),
            _ => new AmountTable([.. compiler.Store.Currencies.Select(_ => step.Quantity)]),
        };

    /// <summary>Whether a step counts: it is reached, and no higher one that would take its place.</summary>
    private sealed class Gate(Measure measure, SelectionTest of, AmountTable from, AmountTable? below, EquatableArray<Reward> rewards)
    {
        // A step from nothing is reached by a cart that holds nothing of it.
        public IEnumerable<int>? Touches => from.IsAboveZero ? of.InTerms.ToArray() : null;

        public bool LooksAt(CartView cart, int line) => of.Selects(cart, line);

        public bool IsOpen(Sheet sheet)
        {
            var (cart, measured) = (sheet.Cart, Measured(sheet));
            return measured >= from[cart] && (below is null || measured < below[cart]);
        }

        public IEnumerable<Want[]> Wants(CartView cart)
        {
            var measured = measure == Measure.Quantity ? of.Units(cart) : of.Spend(cart);
            if (measured >= from[cart])
                yield break;
            var missing = from[cart] - measured;
            yield return [measure == Measure.Quantity ? new(of.Written, missing, Brings: rewards) : new(of.Written, 0, missing, rewards)];
        }

        public Idleness? WhyClosed(Sheet sheet)
        {
            var measured = Measured(sheet);
            if (measured >= from[sheet.Cart])
                return null;
            if (of.Units(sheet.Cart) == 0)
                return new Idleness.NothingOfIt(of.Written);
            return measure == Measure.Quantity
                ? new Idleness.TooFew(of.Written, measured, from[sheet.Cart])
                : new Idleness.ComesToTooLittle(of.Written, measured, from[sheet.Cart]);
        }

        private long Measured(Sheet sheet) => measure == Measure.Quantity ? sheet.Holds(of).Units : sheet.Holds(of).Goods;
    }

    private sealed class OnStep(ReadyReward reward, Gate gate) : ReadyReward
    {
        public override Stage Stage => reward.Stage;

        public override IEnumerable<int>? Touches => gate.Touches;

        public override bool LooksAt(CartView cart, int line) => gate.LooksAt(cart, line) || reward.LooksAt(cart, line);

        public override void Apply(Sheet sheet)
        {
            if (gate.IsOpen(sheet))
                reward.Apply(sheet);
        }

        public override long Bound(Sheet sheet, out long dearest)
        {
            dearest = 0;
            return gate.IsOpen(sheet) ? reward.Bound(sheet, out dearest) : 0;
        }

        public override IEnumerable<Want[]> Wants(CartView cart) => gate.Wants(cart);

        public override Idleness WhyIdle(Sheet sheet) =>
            gate.WhyClosed(sheet) ?? (gate.IsOpen(sheet) ? reward.WhyIdle(sheet) : new Idleness.HigherStepCounts());

        public override long BoundOf(Sheet sheet, long goods) => gate.IsOpen(sheet) ? reward.BoundOf(sheet, goods) : 0;

        public override bool LowerToBound(Sheet sheet, RelaxedPrices prices, long dearest) =>
            !gate.IsOpen(sheet) || reward.LowerToBound(sheet, prices, dearest);

        public override long BoundOfPoints(Sheet sheet, long net) => gate.IsOpen(sheet) ? reward.BoundOfPoints(sheet, net) : 0;

        public override (long Units, long Net) BoundOfGifts(Sheet sheet) => gate.IsOpen(sheet) ? reward.BoundOfGifts(sheet) : default;
    }

    /// <summary>Dearest units first; each gets the take of the highest step that its place in that order reaches.</summary>
    private sealed class BeyondSteps(SelectionTest of, (long Quantity, CartTake[] Takes)[] steps) : UnitReward
    {
        public override Stage Stage => Stage.Item;

        public override IEnumerable<int> Touches => of.InTerms.ToArray();

        public override bool LooksAt(CartView cart, int line) => of.Selects(cart, line);

        public override void Apply(Sheet sheet)
        {
            var lowering = sheet.BeginLowering();
            Walk(sheet, lowering);
            lowering.Done();
        }

        // The dearest price, the next, and so on all come down with prices, whichever units they are then of, and with each what is taken
        // at its place.
        public override long Bound(Sheet sheet, out long dearest)
        {
            dearest = 0;
            return Walk(sheet, null);
        }

        public override long BoundOf(Sheet sheet, long goods) => goods;

        public override IEnumerable<Want[]> Wants(CartView cart)
        {
            var units = of.Units(cart);
            foreach (var (quantity, _) in steps)
                if (quantity > units)
                    return
                    [
                        [new(of.Written, quantity - units)],
                    ];
            return [];
        }

        public override Idleness WhyIdle(Sheet sheet)
        {
            var units = of.Units(sheet.Cart);
            if (units == 0)
                return new Idleness.NothingOfIt(of.Written);
            return units < steps[0].Quantity
                ? new Idleness.TooFew(of.Written, units, steps[0].Quantity)
                : new Idleness.NothingToTake(of.Written);
        }

        public override bool LowerToBound(Sheet sheet, RelaxedPrices prices, long dearest)
        {
            var selected = sheet.Selected(of);
            var lines = prices.Lines;
            var before = prices.Prices;
            sheet.Work.Count((long)steps.Length * lines.Length);
            if (prices.Splits(selected))
                return false;
            for (var i = 0; i < lines.Length; i++)
                if (selected[lines[i]])
                    prices.Lower(i, Most(sheet, before[i]));
            return true;
        }

        private long Most(Sheet sheet, long price)
        {
            long most = 0;
            foreach (var (_, takes) in steps)
                most = Math.Max(most, takes[sheet.Cart.CurrencyNumber].From(price));
            return most;
        }

        // What is taken in all; what from each unit goes to the lowering, if there is one.
        private long Walk(Sheet sheet, Lowering? lowering)
        {
            long place = 0,
                taken = 0;
            foreach (var i in sheet.ByPrice(of, Pick.Dearest))
            {
                var run = sheet.Runs[i];
                for (var done = 0; done < run.Count; )
                {
                    // The next unit stands at place + 1; those up to the next step's threshold share its take.
                    var step = LastReached(place + 1);
                    var until = step + 1 < steps.Length ? steps[step + 1].Quantity - 1 - place : long.MaxValue;
                    var count = (int)Math.Min(until, run.Count - done);
                    var each = step < 0 ? 0 : steps[step].Takes[sheet.Cart.CurrencyNumber].From(run.Price);
                    lowering?.Add(new(i, count), each);
                    taken += each * count;
                    done += count;
                    place += count;
                }
            }

            return taken;
        }

        private int LastReached(long place)
        {
            var step = -1;
            while (step + 1 < steps.Length && steps[step + 1].Quantity <= place)
                step++;
            return step;
        }
    }
}

/// <summary>What a ladder measures.</summary>
public enum Measure
{
    /// <summary>Units.</summary>
    Quantity,

    /// <summary>The sum of current prices.</summary>
    Spend,
}

/// <summary>Which of the reached steps count.</summary>
public enum StepsThatCount
{
    /// <summary>The highest.</summary>
    Highest,

    /// <summary>All, in order.</summary>
    All,

    /// <summary>By quantity: each unit gets what the step says that its own place reaches.</summary>
    Beyond,
}

/// <summary>One threshold of a ladder.</summary>
/// <param name="Quantity">Units from which it is reached; 0 where it goes by spend.</param>
/// <param name="Spend">The sum from which it is reached; none where it goes by quantity.</param>
/// <param name="Rewards">What it gives.</param>
public sealed record LadderStep(long Quantity, Amount? Spend, EquatableArray<Reward> Rewards);
