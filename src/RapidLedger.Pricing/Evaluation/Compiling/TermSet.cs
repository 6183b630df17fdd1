namespace RapidLedger.Pricing;

/// <summary>The numbers of the terms of a selection.</summary>
internal sealed class TermSet
{
    // Up to so many are looked through.
    private const int Few = 8;

    // Bits from the first number to the last, where they take no more room than so many times the numbers.
    private const int MostWordsForNumber = 2;

    private readonly int[] numbers;
    private readonly ulong[]? bits;

    public TermSet(IEnumerable<int> terms)
    {
        numbers = [.. terms];
        Array.Sort(numbers);
        if (numbers.Length <= Few)
            return;
        var words = ((numbers[^1] - numbers[0]) >> 6) + 1;
        if (words > numbers.Length * MostWordsForNumber)
            return;
        bits = new ulong[words];
        foreach (var number in numbers)
            bits[(number - numbers[0]) >> 6] |= 1UL << ((number - numbers[0]) & 63);
    }

    /// <summary>Ascending.</summary>
    public ReadOnlySpan<int> Numbers => numbers;

    /// <summary>Whether a variant is named, or any of the terms that hold of it is.</summary>
    public bool HoldsAny(int variant, ReadOnlySpan<int> terms)
    {
        if (numbers.Length == 0)
            return false;
        if (numbers.Length == 1)
            return numbers[0] == variant || terms.Contains(numbers[0]);
        if (Contains(variant))
            return true;
        foreach (var term in terms)
            if (Contains(term))
                return true;
        return false;
    }

    private bool Contains(int number)
    {
        if (numbers.Length <= Few)
            return numbers.AsSpan().Contains(number);
        // Variants, products, categories and so on are each numbered in a row: most are far from any that is named.
        if (number < numbers[0] || number > numbers[^1])
            return false;
        return bits is null
            ? Array.BinarySearch(numbers, number) >= 0
            : (bits[(number - numbers[0]) >> 6] >> ((number - numbers[0]) & 63) & 1) != 0;
    }
}
