using NodaTime;
using NodaTime.Text;

namespace RapidLedger.Formats;

/// <summary>The form of local times in documents: ISO 8601 without offset, with or without seconds.</summary>
public static class LocalTimes
{
    private static readonly LocalDateTimePattern WithoutSeconds = LocalDateTimePattern.CreateWithInvariantCulture(
        "uuuu'-'MM'-'dd'T'HH':'mm"
    );

    /// <summary>Reads one; null: it is none.</summary>
    public static LocalDateTime? Read(string text) =>
        WithoutSeconds.Parse(text).TryGetValue(default, out var local)
        || LocalDateTimePattern.ExtendedIso.Parse(text).TryGetValue(default, out local)
            ? local
            : null;

    /// <summary>Writes one, with seconds only where it has some.</summary>
    public static string Write(LocalDateTime local) =>
        local.Second == 0 && local.NanosecondOfSecond == 0 ? WithoutSeconds.Format(local) : LocalDateTimePattern.ExtendedIso.Format(local);
}
