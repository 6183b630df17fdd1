using System.Numerics;

namespace RapidLedger.Pricing;

/// <summary>Numbers from 0 on, each once: put in in any order, taken out in theirs.</summary>
internal sealed class NumberSet
{
    private ulong[] words = [];
    private int used;

    /// <summary>Begins anew.</summary>
    /// <param name="below">All numbers are below it.</param>
    public void Open(int below)
    {
        used = (below + 63) >> 6;
        if (words.Length < used)
            words = new ulong[used];
        words.AsSpan(0, used).Clear();
    }

    /// <summary>Makes room for more numbers; those that are in it stay.</summary>
    public void MakeRoom(int below)
    {
        if (words.Length << 6 < below)
            Array.Resize(ref words, (below + 63) >> 6);
    }

    /// <summary>Puts a number in; false: it was in already.</summary>
    public bool Add(int number)
    {
        ref var word = ref words[number >> 6];
        var bit = 1UL << (number & 63);
        if ((word & bit) != 0)
            return false;
        word |= bit;
        return true;
    }

    public void Remove(int number) => words[number >> 6] &= ~(1UL << (number & 63));

    /// <summary>Adds to a list what stands at the numbers, in their order.</summary>
    public void AddTo<T>(List<T> list, T[] from)
    {
        for (var word = 0; word < used; word++)
        for (var left = words[word]; left != 0; left &= left - 1)
            list.Add(from[(word << 6) + BitOperations.TrailingZeroCount(left)]);
    }
}
