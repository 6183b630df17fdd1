namespace RapidLedger.Pricing;

/// <summary>An entry for each kind of something, as members named after the kinds.</summary>
public abstract record KindTable<T>
{
    /// <summary>The entries by the names used in files.</summary>
    public IReadOnlyDictionary<string, T> ByName() =>
        GetType()
            .GetProperties()
            .Where(member => member.PropertyType == typeof(T))
            .ToDictionary(
                member => char.ToLowerInvariant(member.Name[0]) + member.Name[1..],
                member => (T)member.GetValue(this)!,
                StringComparer.Ordinal
            );
}
