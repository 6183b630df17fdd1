using System.Globalization;
using System.Text.Json;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>
/// A value in a document, where it stands, and the list its problems go to. Every reader returns null when it has reported a problem.
/// </summary>
internal sealed record Node(JsonElement Value, Pointer At, ProblemList Problems)
{
    private static readonly OffsetDateTimePattern WithoutSeconds = OffsetDateTimePattern.CreateWithInvariantCulture(
        "uuuu'-'MM'-'dd'T'HH':'mmo<Z+HH:mm>"
    );

    /// <summary>Reports a problem here.</summary>
    public Nothing Fault(string code, string message)
    {
        Problems.Add(At, code, message);
        return default;
    }

    /// <summary>The members of an object, of which only known names are allowed.</summary>
    public Members? Object(params ReadOnlySpan<string> known)
    {
        if (Value.ValueKind != JsonValueKind.Object)
            return Fault(ProblemCode.WrongType, $"An object is expected here, not {Kind}.");
        var members = new Members(this);
        foreach (var member in Entries())
        {
            if (!known.Contains(member.Name))
                member.Node.Fault(
                    ProblemCode.UnknownName,
                    $"'{member.Name}' is not a name that is known here. Known are: {string.Join(", ", known!)}."
                );
            else
                members.Add(member.Name, member.Node);
        }

        return members;
    }

    /// <summary>The members of an object with free names.</summary>
    public IEnumerable<(string Name, Node Node)>? Dictionary()
    {
        if (Value.ValueKind == JsonValueKind.Object)
            return Entries();
        Fault(ProblemCode.WrongType, $"An object is expected here, not {Kind}.");
        return null;
    }

    /// <summary>The one member that an object of this kind has; only known names are allowed.</summary>
    public (string Name, Node Node)? One(params ReadOnlySpan<string> known)
    {
        var before = Problems.Count;
        if (Object(known) is not { } members)
            return null;
        if (members.Names.Count == 1)
            return (members.Names[0], members[members.Names[0]]!);
        // An unknown name has been reported; that it leaves no known one follows from it.
        if (members.Names.Count > 1 || Problems.Count == before)
            Fault(ProblemCode.ExactlyOne, $"Exactly one of these is expected here: {string.Join(", ", known!)}.");
        return null;
    }

    /// <summary>The items of an array that could be read.</summary>
    public List<T>? Array<T>(Func<Node, T?> read, bool orEmpty = true, string whenEmpty = "At least one entry is needed here.")
        where T : class
    {
        if (Value.ValueKind != JsonValueKind.Array)
        {
            Fault(ProblemCode.WrongType, $"A list is expected here, not {Kind}.");
            return null;
        }

        if (!orEmpty && Value.GetArrayLength() == 0)
        {
            Fault(ProblemCode.Empty, whenEmpty);
            return null;
        }

        var items = new List<T>(Value.GetArrayLength());
        foreach (var item in Items())
            if (read(item) is { } value)
                items.Add(value);
        return items;
    }

    /// <summary>A member that is known to be there, or the place it would have.</summary>
    public Node Member(string name)
    {
        foreach (var (other, node) in Value.ValueKind == JsonValueKind.Object ? (this with { Problems = new() }).Entries() : [])
            if (other == name)
                return node with { Problems = Problems };
        return new(default, At.Absent(name), Problems);
    }

    /// <summary>The items of an array as they stand; none if it is not one.</summary>
    public IEnumerable<Node> Items()
    {
        if (Value.ValueKind != JsonValueKind.Array)
            yield break;
        var index = 0;
        foreach (var item in Value.EnumerateArray())
            yield return new(item, At.Item(index++), Problems);
    }

    /// <summary>A text.</summary>
    public string? Text()
    {
        if (Value.ValueKind != JsonValueKind.String)
            return Fault(ProblemCode.WrongType, $"A text is expected here, not {Kind}.");
        return WholeText.Of(Value.GetString) is { } text
            ? text
            : Fault(ProblemCode.WrongType, "This text holds half of a character (a lone surrogate). Type it again.");
    }

    /// <summary>A text that is not empty.</summary>
    public string? Name() =>
        Text() is not { } text ? null
        : text.Length > 0 ? text
        : Fault(ProblemCode.Empty, "This must not be empty.");

    /// <summary>One of some words.</summary>
    public T? Word<T>(params ReadOnlySpan<(string Word, T Value)> words)
        where T : struct
    {
        if (Text() is not { } text)
            return null;
        foreach (var (word, value) in words)
            if (word == text)
                return value;
        var known = string.Join(", ", words.ToArray().Select(entry => entry.Word));
        Fault(ProblemCode.UnknownValue, $"'{text}' is not one of: {known}.");
        return null;
    }

    /// <summary>True or false.</summary>
    public bool? Flag()
    {
        if (Value.ValueKind is JsonValueKind.True or JsonValueKind.False)
            return Value.GetBoolean();
        Fault(ProblemCode.WrongType, $"true or false is expected here, not {Kind}.");
        return null;
    }

    /// <summary>A whole number within bounds.</summary>
    public long? Integer(long least, long most = 1_000_000_000_000)
    {
        if (Number() is not { } number)
            return null;
        if (number != decimal.Truncate(number))
            Fault(ProblemCode.NotAnInteger, $"A whole number is expected here, not {Value.GetRawText()}.");
        else if (number < least || number > most)
            Fault(ProblemCode.OutOfRange, $"A number from {least} to {most} is expected here, not {Value.GetRawText()}.");
        else
            return (long)number;
        return null;
    }

    /// <summary>A percentage.</summary>
    public Percent? Percent()
    {
        if (Number() is not { } number)
            return null;
        if (number is < 0 or > 100)
            Fault(ProblemCode.OutOfRange, $"A percentage from 0 to 100 is expected here, not {Value.GetRawText()}.");
        else if (Pricing.Percent.From(number) is { } percent)
            return percent;
        else
            Fault(ProblemCode.TooManyDecimals, $"A percentage has at most 4 decimals; {Value.GetRawText()} has more.");
        return null;
    }

    /// <summary>A moment: ISO 8601 with offset, within the years that are counted with.</summary>
    public Instant? Moment()
    {
        if (Text() is not { } text)
            return null;
        if (
            OffsetDateTimePattern.ExtendedIso.Parse(text).TryGetValue(default, out var moment)
            || WithoutSeconds.Parse(text).TryGetValue(default, out moment)
        )
            return IsWithin(moment.Year) ? moment.ToInstant() : null;
        Fault(ProblemCode.NotAnInstant, $"'{text}' is not a moment. Write date, time and offset, such as 2027-03-05T10:00:00+01:00.");
        return null;
    }

    /// <summary>A local date and time: ISO 8601 without offset.</summary>
    public LocalDateTime? LocalTime()
    {
        if (Text() is not { } text)
            return null;
        if (LocalTimes.Read(text) is { } local)
            return IsWithin(local.Year) ? local : null;
        Fault(ProblemCode.NotALocalTime, $"'{text}' is not a local date and time. Write it such as 2027-03-01T00:00, without an offset.");
        return null;
    }

    /// <summary>A day: ISO 8601, such as 2027-03-31.</summary>
    public LocalDate? Day()
    {
        if (Text() is not { } text)
            return null;
        if (LocalDatePattern.Iso.Parse(text).TryGetValue(default, out var day))
            return IsWithin(day.Year) ? day : null;
        Fault(ProblemCode.NotALocalTime, $"'{text}' is not a day. Write it such as 2027-03-31.");
        return null;
    }

    private bool IsWithin(int year)
    {
        if (year is >= Window.FirstYear and <= Window.LastYear)
            return true;
        Fault(ProblemCode.OutOfRange, $"A year from {Window.FirstYear} to {Window.LastYear} is expected here, not {year}.");
        return false;
    }

    /// <summary>A number, exactly; one that no decimal number holds is out of range.</summary>
    private decimal? Number()
    {
        if (Value.ValueKind != JsonValueKind.Number)
        {
            Fault(ProblemCode.WrongType, $"A number is expected here, not {Kind}.");
            return null;
        }

        var written = Value.GetRawText();
        if (
            written.Length <= 28
            && decimal.TryParse(written, NumberStyles.Float, CultureInfo.InvariantCulture, out var number)
            && (number != 0 || !written.AsSpan().ContainsAnyInRange('1', '9'))
        )
            return number;
        var small = written.Contains('.', StringComparison.Ordinal) || written.Contains("e-", StringComparison.OrdinalIgnoreCase);
        if (small)
            Fault(ProblemCode.TooManyDecimals, "This number has more decimals than are of use here.");
        else
            Fault(ProblemCode.OutOfRange, "This number is too large.");
        return null;
    }

    /// <summary>What the value is, in words.</summary>
    internal string Kind =>
        Value.ValueKind switch
        {
            JsonValueKind.Object => "an object",
            JsonValueKind.Array => "a list",
            JsonValueKind.String => WholeText.Of(Value.GetString) is { } text
                ? $"the text '{(text.Length > 40 ? text[..40] + "…" : text)}'"
                : "a text",
            JsonValueKind.Number => "a number",
            JsonValueKind.True or JsonValueKind.False => "true or false",
            _ => "nothing",
        };

    private IEnumerable<(string Name, Node Node)> Entries()
    {
        var seen = new HashSet<string>(StringComparer.Ordinal);
        var position = 0;
        foreach (var member in Value.EnumerateObject())
        {
            if (WholeText.Of(() => member.Name) is not { } name)
            {
                Fault(ProblemCode.UnknownName, "A name here holds half of a character (a lone surrogate).");
                continue;
            }

            var node = new Node(member.Value, At.Member(name, position++), Problems);
            if (seen.Add(name))
                yield return (name, node);
            else
                node.Fault(ProblemCode.Duplicate, $"'{name}' stands here twice. Keep one.");
        }
    }
}

/// <summary>What a reader returns that has reported a problem: nothing, of whatever type.</summary>
internal readonly struct Nothing
{
    public static implicit operator string?(Nothing _) => null;

    public static implicit operator Members?(Nothing _) => null;
}

/// <summary>The members of an object by name.</summary>
internal sealed class Members(Node of)
{
    private readonly Dictionary<string, Node> byName = new(StringComparer.Ordinal);

    /// <summary>The names that are there.</summary>
    public List<string> Names { get; } = [];

    /// <summary>A member, or null if it is not there.</summary>
    public Node? this[string name] => byName.GetValueOrDefault(name);

    public void Add(string name, Node node)
    {
        byName.Add(name, node);
        Names.Add(name);
    }

    /// <summary>A member that must be there.</summary>
    public Node? Required(string name)
    {
        if (this[name] is { } node)
            return node;
        of.Problems.Add(of.At.Absent(name), ProblemCode.Missing, $"'{name}' is missing here.");
        return null;
    }

    /// <summary>Refuses members that mean something, but not here.</summary>
    public void NotAllowed(string why, params ReadOnlySpan<string> names)
    {
        foreach (var name in names)
            this[name]?.Fault(ProblemCode.NotAllowed, $"'{name}' is not allowed here: {why}.");
    }
}
