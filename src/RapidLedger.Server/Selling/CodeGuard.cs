using System.Collections.Concurrent;
using System.Net;
using System.Net.Sockets;
using NodaTime;

namespace RapidLedger.Server.Selling;

/// <summary>
/// Keeps codes from being tried out by the thousand: who enters more than ten different unknown ones within a minute is told nothing about
/// further codes for a while, known or not, also where they stand in one cart.
/// </summary>
internal sealed class CodeGuard(IClock clock)
{
    private const int MostUnknown = 10;
    private const int MostWatched = 100_000;
    private const int PrefixBytes = 8;

    private static readonly Duration Span = Duration.FromMinutes(1);

    private readonly ConcurrentDictionary<string, Tries> watched = new(StringComparer.Ordinal);

    /// <summary>Whether somebody has tried too many.</summary>
    public bool IsClosedTo(string who) =>
        watched.TryGetValue(who, out var tries) && tries.Count(clock.GetCurrentInstant() - Span) > MostUnknown;

    /// <summary>Remembers the unknown ones of the codes that somebody entered.</summary>
    /// <param name="who">Who.</param>
    /// <param name="entered">The codes in order, and whether each is unknown.</param>
    /// <returns>How many may be told of: after one unknown code too many none of those that follow.</returns>
    public int Admitted(string who, IReadOnlyList<(string Code, bool IsUnknown)> entered)
    {
        var now = clock.GetCurrentInstant();
        var (admitted, isClosed) = (0, false);
        for (; admitted < entered.Count && !isClosed; admitted++)
        {
            if (!entered[admitted].IsUnknown)
                continue;
            watched.GetOrAdd(who, _ => new()).Add(entered[admitted].Code, now);
            isClosed = IsClosedTo(who);
        }

        if (watched.Count <= MostWatched)
            return admitted;
        foreach (var (one, tries) in watched)
            if (tries.Count(now - Span) == 0)
                watched.TryRemove(one, out _);
        return admitted;
    }

    /// <summary>Who is at an address: one of a network of IPv6 (/64) is the others too.</summary>
    public static string At(IPAddress? address) =>
        address switch
        {
            null => "unknown",
            { AddressFamily: AddressFamily.InterNetworkV6, IsIPv4MappedToIPv6: false } => Convert.ToHexString(
                address.GetAddressBytes()[..PrefixBytes]
            ),
            _ => address.MapToIPv4().ToString(),
        };

    private sealed class Tries
    {
        private readonly Dictionary<string, Instant> codes = new(StringComparer.Ordinal);

        public void Add(string code, Instant at)
        {
            lock (codes)
            {
                codes[code] = at;
                if (codes.Count > MostUnknown * 10)
                    Forget(at - Span);
            }
        }

        public int Count(Instant since)
        {
            lock (codes)
            {
                Forget(since);
                return codes.Count;
            }
        }

        private void Forget(Instant since)
        {
            foreach (var old in codes.Where(entry => entry.Value <= since).Select(entry => entry.Key).ToArray())
                codes.Remove(old);
        }
    }
}
