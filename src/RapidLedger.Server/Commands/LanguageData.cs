using System.Globalization;
using RapidLedger.Pricing;

namespace RapidLedger.Server.Commands;

/// <summary>The machine's language data, which must not change a result: it is asked for what results depend on.</summary>
internal static class LanguageData
{
    /// <summary>Whether codes compare after NFKC (UAX 15), and German amounts are written as in Germany.</summary>
    public static bool IsThere
    {
        get
        {
            try
            {
                return Trigger.Normal("\uFB01ne\u2460") == "FINE1" && 1.5m.ToString("0.0", CultureInfo.GetCultureInfo("de-DE")) == "1,5";
            }
            catch (Exception error) when (error is CultureNotFoundException or PlatformNotSupportedException or ArgumentException)
            {
                return false;
            }
        }
    }
}
