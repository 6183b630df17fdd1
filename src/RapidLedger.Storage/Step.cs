using System.Text.Json.Nodes;

namespace RapidLedger.Storage;

/// <summary>Who does a step: the app, a file, or the shop's server by one of its keys.</summary>
/// <param name="Kind">app, file or server.</param>
/// <param name="Who">The name of the file or key; empty for the app.</param>
public sealed record StepSource(string Kind, string Who)
{
    /// <summary>Somebody at the app.</summary>
    public static readonly StepSource App = new("app", "");

    /// <summary>A file.</summary>
    public static StepSource File(string name) => new("file", name);

    /// <summary>The shop's server.</summary>
    public static StepSource Server(string key) => new("server", key);
}

/// <summary>A change of one row of goods, shoppers or settings.</summary>
/// <param name="Kind">category, product, variant, shopper or store.</param>
/// <param name="Id">Which.</param>
/// <param name="Members">What is written, member by member; null empties one, what is left out stays.</param>
public sealed record RowChange(string Kind, string Id, JsonObject Members);

/// <summary>A row with a change put over it, before it is written.</summary>
/// <param name="Change">The change.</param>
/// <param name="Before">What it was; null: there was none.</param>
/// <param name="After">What it becomes; of a new row the members themselves.</param>
public sealed record ChangedRow(RowChange Change, JsonObject? Before, JsonObject After);

/// <summary>What is free now of a SKU; null: there is no end to it.</summary>
public sealed record FreeStock(string Sku, long? Free);

/// <summary>A step as it stands in the history.</summary>
/// <param name="Number">Its number.</param>
/// <param name="Source">app, file or server.</param>
/// <param name="Who">The name of the file or key; empty for the app.</param>
/// <param name="What">What was done, in words.</param>
/// <param name="At">When, as an ISO 8601 instant.</param>
/// <param name="Rows">How many rows it changed.</param>
/// <param name="TakesBack">The step that it takes back; null: none.</param>
/// <param name="TakenBack">The step that took it back; null: none.</param>
public sealed record StoredStep(long Number, string Source, string Who, string What, string At, long Rows, long? TakesBack, long? TakenBack)
{
    // What is computed has no type where there are no rows: the members are set one by one.
    private StoredStep()
        : this(0, "", "", "", "", 0, null, null) { }
}

/// <summary>What a step changed of one row.</summary>
/// <param name="Step">The step.</param>
/// <param name="Kind">category, product, variant, shopper or store.</param>
/// <param name="Id">Which.</param>
/// <param name="Before">The members as they were, JSON; null: there was no such row.</param>
/// <param name="After">The members as they are then.</param>
public sealed record StoredStepRow(long Step, string Kind, string Id, string? Before, string After)
{
    // As for steps.
    private StoredStepRow()
        : this(0, "", "", null, "") { }
}

/// <summary>A change of one row as the history tells it.</summary>
/// <param name="Source">app, file or server.</param>
/// <param name="Who">The name of the file or key; empty for the app.</param>
/// <param name="What">What was done, in words.</param>
/// <param name="At">When, as an ISO 8601 instant.</param>
/// <param name="Before">The members as they were, JSON; null: there was no such row.</param>
/// <param name="After">The members as they are then.</param>
public sealed record StoredChange(string Source, string Who, string What, string At, string? Before, string After);

/// <summary>What came of a step.</summary>
/// <param name="Number">Its number; null: nothing was written, because a row was refused or nothing differs.</param>
/// <param name="Changed">How many rows it changed.</param>
/// <param name="Kept">When a step is taken back: the members that were written since, and stay.</param>
public sealed record StepOutcome(long? Number, int Changed, IReadOnlyList<StayingMember> Kept)
{
    /// <summary>Nothing was written.</summary>
    public static readonly StepOutcome Nothing = new(null, 0, []);
}

/// <summary>A member that does not return to what it was, because it was written since.</summary>
public sealed record StayingMember(string Kind, string Id, string Member);
