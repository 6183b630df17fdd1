using System.Collections;
using System.Runtime.CompilerServices;

namespace RapidLedger.Pricing;

/// <summary>An unchanging list that equals another with equal entries, so that records that hold lists compare by value.</summary>
[CollectionBuilder(typeof(EquatableArray), nameof(EquatableArray.Of))]
public readonly struct EquatableArray<T>(T[]? items) : IEquatable<EquatableArray<T>>, IReadOnlyList<T>
{
    private readonly T[] items = items ?? [];

    private T[] Items => items ?? [];

    /// <summary>Number of entries.</summary>
    public int Count => Items.Length;

    /// <summary>The entry at a place, counted from 0.</summary>
    public T this[int index] => Items[index];

    /// <summary>The entries as a span.</summary>
    public ReadOnlySpan<T> Span => Items;

    /// <inheritdoc/>
    public bool Equals(EquatableArray<T> other) => Items.AsSpan().SequenceEqual(other.Items);

    /// <inheritdoc/>
    public override bool Equals(object? obj) => obj is EquatableArray<T> other && Equals(other);

    /// <inheritdoc/>
    public override int GetHashCode()
    {
        var hash = new HashCode();
        foreach (var item in Items)
            hash.Add(item);
        return hash.ToHashCode();
    }

    /// <summary>Enumerates the entries without allocating.</summary>
    public ReadOnlySpan<T>.Enumerator GetEnumerator() => Span.GetEnumerator();

    IEnumerator<T> IEnumerable<T>.GetEnumerator() => ((IEnumerable<T>)Items).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => Items.GetEnumerator();

    /// <summary>Compares entry by entry.</summary>
    public static bool operator ==(EquatableArray<T> left, EquatableArray<T> right) => left.Equals(right);

    /// <summary>Compares entry by entry.</summary>
    public static bool operator !=(EquatableArray<T> left, EquatableArray<T> right) => !left.Equals(right);
}

/// <summary>Makes an <see cref="EquatableArray{T}"/>.</summary>
public static class EquatableArray
{
    /// <summary>A list of copies of the entries.</summary>
    public static EquatableArray<T> Of<T>(ReadOnlySpan<T> items) => new(items.ToArray());

    /// <summary>A list of the entries of a sequence.</summary>
    public static EquatableArray<T> ToEquatableArray<T>(this IEnumerable<T> items) => new([.. items]);
}
