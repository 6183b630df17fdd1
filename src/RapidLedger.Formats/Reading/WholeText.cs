namespace RapidLedger.Formats;

/// <summary>Text of whole characters: System.Text.Json refuses to hand out any with lone surrogates.</summary>
public static class WholeText
{
    /// <summary>A text or a name; null: it holds half of a character.</summary>
    /// <param name="read">Asks for it.</param>
    public static string? Of(Func<string?> read)
    {
        try
        {
            return read() ?? "";
        }
        catch (InvalidOperationException)
        {
            return null;
        }
    }
}
