using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>A place by the name the shop gives it.</summary>
/// <param name="Code">ISO 3166-1 or 3166-2.</param>
/// <param name="Name">What the merchant reads.</param>
public sealed record NamedPlace(string Code, string Name);

/// <summary>What the shop says about itself beside what pricing needs.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Locale">In which amounts and dates are written (BCP 47).</param>
/// <param name="Channels">Where it sells.</param>
/// <param name="Groups">The groups that its shoppers can be in.</param>
/// <param name="Places">The places it knows by name.</param>
/// <param name="Link">The form of links that carry a code, with {code} in it; none: the counter's own.</param>
/// <param name="Effort">How much work may be put into a choice, as a multiple of the default.</param>
/// <param name="HoldMinutes">How long an order that is not paid yet is held, in minutes.</param>
/// <param name="IsDemo">Whether it is the shop that ships with the program, to look around in.</param>
public sealed record ShopSettings(
    string Name,
    string Locale,
    string[] Channels,
    string[] Groups,
    NamedPlace[] Places,
    string? Link = null,
    int Effort = 1,
    int HoldMinutes = ShopSettings.UsualHold,
    bool IsDemo = false
)
{
    /// <summary>How long an order is held where nothing else is said, in minutes.</summary>
    public const int UsualHold = 30;

    /// <summary>The longest that an order may be held, in minutes: 14 days.</summary>
    public const int LongestHold = 14 * 24 * 60;

    /// <summary>What stands for the code in a link.</summary>
    public const string CodeInLink = "{code}";

    /// <summary>The settings where there is no shop yet.</summary>
    public static readonly ShopSettings Unnamed = new("Unnamed shop", "en-GB", [Cart.Web], [], []);
}
