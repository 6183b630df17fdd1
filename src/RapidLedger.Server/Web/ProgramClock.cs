using NodaTime;

namespace RapidLedger.Server.Web;

/// <summary>
/// The one clock of the program: the machine's, or one that stands, always in whole seconds. What is compared is what is written, and what
/// is
/// written and read back is the same.
/// </summary>
/// <param name="standsAt">The moment at which it stands; null: it goes as the machine's does.</param>
internal sealed class ProgramClock(Instant? standsAt = null) : IClock
{
    /// <summary>The machine's.</summary>
    public static readonly ProgramClock Machine = new();

    /// <summary>Whether it stands.</summary>
    public bool Stands => standsAt is not null;

    /// <inheritdoc/>
    public Instant GetCurrentInstant() =>
        Instant.FromUnixTimeSeconds((standsAt ?? SystemClock.Instance.GetCurrentInstant()).ToUnixTimeSeconds());
}
