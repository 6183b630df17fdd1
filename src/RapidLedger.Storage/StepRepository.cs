using System.Diagnostics;
using System.Text.Json.Nodes;
using Dapper;
using Microsoft.Data.Sqlite;
using NodaTime;

namespace RapidLedger.Storage;

/// <summary>
/// Writes goods, shoppers and settings in steps that count all at once and can be taken back. A long step is written in short pieces that
/// nobody sees, so that orders are placed meanwhile; one short write makes it count, and it settles in short pieces again. Steps come one
/// after the other; whoever else writes waits.
/// </summary>
public sealed class StepRepository(Database database, IClock clock)
{
    /// <summary>How many steps of the app and of files, and how many of the shop's server, can be taken back.</summary>
    public const int Kept = 20;

    /// <summary>How many rows are written at once, without pieces.</summary>
    private const int Few = 200;

    private static readonly TimeSpan Piece = TimeSpan.FromMilliseconds(40);
    private static readonly Duration OneStep = Duration.FromHours(1);

    private readonly SemaphoreSlim turn = new(1);

    /// <summary>Who writes a step just now, in words; null: nobody.</summary>
    public string? Writing { get; private set; }

    /// <summary>Brings changes in as one step, or as part of the last one of the same key of the shop's server.</summary>
    /// <param name="source">Who does it.</param>
    /// <param name="what">What is done, in words.</param>
    /// <param name="changes">Each row once.</param>
    /// <param name="stocks">What is free now of SKUs; it is part of no step.</param>
    /// <param name="accepts">Looks at a row as it will be; false refuses the whole step.</param>
    /// <param name="progress">Is told how many rows are written.</param>
    /// <param name="gone">Nobody waits any more: nothing is written, unless it counts already.</param>
    public Task<StepOutcome> Write(
        StepSource source,
        string what,
        IReadOnlyList<RowChange> changes,
        IReadOnlyList<FreeStock> stocks,
        Func<ChangedRow, bool> accepts,
        Action<int>? progress = null,
        CancellationToken gone = default
    ) => InTurn(what, () => Step(source, what, changes, stocks, accepts, null, progress, gone), gone);

    /// <summary>Brings changes in as one step, with something else that is written in the same moment as they begin to count.</summary>
    /// <param name="source">Who does it.</param>
    /// <param name="what">What is done, in words.</param>
    /// <param name="changes">Gives the changes when it is this step's turn; there may be none.</param>
    /// <param name="alongside">Writes the rest, given the step's number.</param>
    /// <param name="takesBack">The step that it takes back; null: none.</param>
    internal Task<StepOutcome> WriteWith(
        StepSource source,
        string what,
        Func<IReadOnlyList<RowChange>> changes,
        Action<SqliteConnection, SqliteTransaction, long> alongside,
        long? takesBack
    ) =>
        InTurn(what, () =>
            Step(
                source,
                what,
                changes(),
                [],
                _ => true,
                takesBack,
                null,
                default,
                (connection, transaction, number) => alongside(connection, transaction, number!.Value),
                countsEmpty: true
            )
        );

    /// <summary>
    /// The same, of changes that may be refused; where none is left there is no step, and the rest is written all the same.
    /// </summary>
    /// <param name="source">Who does it.</param>
    /// <param name="what">What is done, in words.</param>
    /// <param name="changes">Each row once.</param>
    /// <param name="stocks">What is free now of SKUs.</param>
    /// <param name="accepts">Looks at a row as it will be; false refuses it all.</param>
    /// <param name="alongside">Writes the rest; what it throws leaves all as it was.</param>
    internal Task<StepOutcome> WriteWith(
        StepSource source,
        string what,
        IReadOnlyList<RowChange> changes,
        IReadOnlyList<FreeStock> stocks,
        Func<ChangedRow, bool> accepts,
        Action<SqliteConnection, SqliteTransaction> alongside
    ) =>
        InTurn(what, () =>
            Step(source, what, changes, stocks, accepts, null, null, default, (connection, transaction, _) =>
                alongside(connection, transaction)
            )
        );

    /// <summary>What changes would make of their rows, without writing anything; null for those that do not differ.</summary>
    public IEnumerable<ChangedRow?> Preview(IReadOnlyList<RowChange> changes)
    {
        using var connection = database.Open();
        using var transaction = connection.BeginTransaction(deferred: true);
        var rows = new StepRows(connection, transaction);
        foreach (var chunk in changes.Chunk(Few))
        {
            rows.Fetch(chunk.Select(change => (change.Kind, change.Id)));
            foreach (var change in chunk)
                yield return rows.Changed(change);
        }
    }

    /// <summary>Takes a step back: members that still hold what it wrote are again what they were; stock stays as it is.</summary>
    /// <param name="number">The step.</param>
    /// <param name="what">What is done, in words.</param>
    /// <param name="accepts">Looks at a row as it will be; false refuses it all.</param>
    /// <returns>Null: there is no such step any more, or it was taken back already.</returns>
    public Task<StepOutcome?> TakeBack(long number, string what, Func<ChangedRow, bool> accepts) => InTurn<StepOutcome?>(what, async () =>
        {
            if (Find(number) is not { TakenBack: null })
                return null;
            var (changes, kept) = Backwards(number);
            var outcome = await Step(StepSource.App, what, changes, [], accepts, number, null, default);
            return outcome with { Kept = kept };
        });

    /// <summary>Ends what a stop or a crash left: what did not count is dropped, what counts is brought to where it belongs.</summary>
    public Task Recover() => InTurn("", async () =>
        {
            await database.Write(
                (connection, transaction) => connection.Execute("DELETE FROM steps WHERE counted IS NULL", transaction: transaction)
            );
            using var connection = database.Open();
            foreach (var number in connection.Query<long>("SELECT number FROM steps WHERE NOT settled ORDER BY counted"))
                await Settle(number);
            return 0;
        });

    /// <summary>The steps that can be taken back or took one back, the last first.</summary>
    public IReadOnlyList<StoredStep> Steps()
    {
        using var connection = database.Open();
        return connection.Query<StoredStep>($"{SelectStep} WHERE counted IS NOT NULL AND part_of IS NULL ORDER BY counted DESC").AsList();
    }

    /// <summary>A step that counts, or null.</summary>
    public StoredStep? Find(long number)
    {
        using var connection = database.Open();
        return connection.QuerySingleOrDefault<StoredStep>(
            $"{SelectStep} WHERE number = @number AND counted IS NOT NULL AND part_of IS NULL",
            new { number }
        );
    }

    /// <summary>What steps changed of one row, the last first, with who did it.</summary>
    public IReadOnlyList<StoredChange> ChangesOf(string kind, string id)
    {
        using var connection = database.Open();
        return connection
            .Query<StoredChange>(
                """
                SELECT whole.source, whole.who, whole.what, whole.at, before, after FROM step_rows
                JOIN steps AS part ON part.number = step JOIN steps AS whole ON whole.number = coalesce(part.part_of, part.number)
                WHERE kind = @kind AND id = @id AND part.counted IS NOT NULL ORDER BY part.counted DESC
                """,
                new { kind, id }
            )
            .AsList();
    }

    private const string SelectStep = """
        SELECT number, source, who, what, at, (
                SELECT count(DISTINCT kind || ' ' || id) FROM step_rows JOIN steps AS part ON part.number = step
                WHERE part.number = steps.number OR part.part_of = steps.number
            ) + coalesce((SELECT orders FROM past_batches WHERE step = steps.number), 0) AS rows, takes_back AS TakesBack,
            taken_back AS TakenBack FROM steps
        """;

    private async Task<T> InTurn<T>(string what, Func<Task<T>> work, CancellationToken gone = default)
    {
        await turn.WaitAsync(gone);
        try
        {
            Writing = what;
            return await work();
        }
        finally
        {
            Writing = null;
            turn.Release();
        }
    }

    private async Task<StepOutcome> Step(
        StepSource source,
        string what,
        IReadOnlyList<RowChange> changes,
        IReadOnlyList<FreeStock> stocks,
        Func<ChangedRow, bool> accepts,
        long? takesBack,
        Action<int>? progress,
        CancellationToken gone,
        Action<SqliteConnection, SqliteTransaction, long?>? alongside = null,
        bool countsEmpty = false
    )
    {
        var writing = new StepWriting(source, what, clock.GetCurrentInstant(), takesBack);
        StepOutcome Count(SqliteConnection connection, SqliteTransaction transaction, StepRows rows)
        {
            var outcome = writing.Count(rows, stocks, Continued(rows, source), countsEmpty);
            alongside?.Invoke(connection, transaction, outcome.Number);
            return outcome;
        }

        if (changes.Count <= Few)
            return await database.Write(
                (connection, transaction) =>
                {
                    var rows = new StepRows(connection, transaction);
                    writing.Begin(rows);
                    if (!writing.Add(rows, changes, accepts, () => false) || writing.IsRefused)
                    {
                        writing.Drop(rows);
                        return StepOutcome.Nothing;
                    }

                    var outcome = Count(connection, transaction, rows);
                    if (outcome.Number is not null)
                        rows.SettleAll(writing.Number);
                    return outcome;
                },
                gone
            );
        await database.Write((connection, transaction) => writing.Begin(new(connection, transaction)), gone);
        var counts = false;
        try
        {
            while (!writing.IsRefused && writing.Done < changes.Count)
            {
                await database.Write(
                    (connection, transaction) =>
                    {
                        var watch = Stopwatch.StartNew();
                        return writing.Add(new(connection, transaction), changes, accepts, () => watch.Elapsed > Piece);
                    },
                    gone
                );
                progress?.Invoke(writing.Done);
            }

            if (writing.IsRefused)
                return StepOutcome.Nothing;
            var outcome = await database.Write(
                (connection, transaction) => Count(connection, transaction, new(connection, transaction)),
                gone
            );
            counts = true;
            if (outcome.Number is not null)
                await Settle(writing.Number);
            return outcome;
        }
        finally
        {
            // Also where the last write was made undone by what is written alongside, or did not reach the disk.
            if (!counts)
                await database.Write((connection, transaction) => writing.Drop(new(connection, transaction)));
        }
    }

    // The step of the same key that this one goes on with: one of the last hour.
    private long? Continued(StepRows rows, StepSource source) =>
        source.Kind == "server" ? rows.LastOf(source, clock.GetCurrentInstant() - OneStep) : null;

    private async Task Settle(long number)
    {
        long? from = -1;
        while (from is { } begin)
        {
            from = await database.Write(
                (connection, transaction) =>
                {
                    var watch = Stopwatch.StartNew();
                    return new StepRows(connection, transaction).Settle(number, begin, () => watch.Elapsed > Piece);
                }
            );
        }
    }

    private (List<RowChange> Changes, List<StayingMember> Kept) Backwards(long number)
    {
        var (changes, kept) = (new List<RowChange>(), new List<StayingMember>());
        using var connection = database.Open();
        var rows = new StepRows(connection, null);
        foreach (var row in rows.RowsOf(number))
        {
            var current = rows.Now(row.Kind, row.Id);
            if (current is null)
                continue;
            var (before, after) = (row.Before is null ? null : StepRows.Parse(row.Before), StepRows.Parse(row.After));
            var members = new JsonObject();
            foreach (var (name, written) in after)
                if (!JsonNode.DeepEquals(current[name], written))
                    kept.Add(new(row.Kind, row.Id, name));
                else if (before is not null)
                    members[name] = before[name]?.DeepClone();
            // What the step brought in is taken out again, unless somebody has written it since: its id stays known.
            if (before is null && !kept.Exists(member => member.Kind == row.Kind && member.Id == row.Id))
                members["gone"] = true;
            if (members.Count > 0)
                changes.Add(new(row.Kind, row.Id, members));
        }

        return (changes, kept);
    }
}
