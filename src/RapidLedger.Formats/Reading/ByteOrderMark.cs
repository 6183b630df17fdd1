using System.Text;

namespace RapidLedger.Formats;

/// <summary>Documents that begin with a byte order mark, as some programs write them (The Unicode Standard, 23.8).</summary>
public static class ByteOrderMark
{
    /// <summary>The same text in UTF-8 without a mark; without one it is taken as UTF-8 as it stands.</summary>
    /// <param name="text">UTF-8, or UTF-16 that begins with its mark.</param>
    public static ReadOnlyMemory<byte> Utf8(ReadOnlyMemory<byte> text) =>
        text.Span switch
        {
            [0xEF, 0xBB, 0xBF, ..] => text[3..],
            [0xFF, 0xFE, ..] => Encoding.Convert(Encoding.Unicode, Encoding.UTF8, text.ToArray(), 2, text.Length - 2),
            [0xFE, 0xFF, ..] => Encoding.Convert(Encoding.BigEndianUnicode, Encoding.UTF8, text.ToArray(), 2, text.Length - 2),
            _ => text,
        };
}
