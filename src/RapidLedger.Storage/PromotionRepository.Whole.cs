using System.Data;
using System.Text.Json.Nodes;
using Dapper;

namespace RapidLedger.Storage;

public sealed partial class PromotionRepository
{
    /// <summary>
    /// Puts promotions in the place of all that are there, and publishes one edition if what is live changes: what is not among them is
    /// retired; of what is the same nothing is written.
    /// </summary>
    /// <returns>How many changed.</returns>
    internal int Put(IReadOnlyList<IncomingPromotion> incoming, string? reason, IDbConnection connection, IDbTransaction transaction)
    {
        var known = connection.Query<StoredPromotion>(Select, transaction: transaction).ToDictionary(one => one.Id, StringComparer.Ordinal);
        var (changed, isLive) = (0, known.Count == 0);
        foreach (var one in incoming)
        {
            if (known.Remove(one.Id, out var current) && IsSame(current, one))
                continue;
            changed++;
            isLive |= one.State == "live" || current?.State == "live";
            Put(one, current, connection, transaction);
        }

        foreach (var left in known.Values.Where(one => one.State != "archived"))
        {
            changed++;
            isLive |= left.State == "live";
            connection.Execute(
                left.Version is null
                    ? "DELETE FROM promotions WHERE id = @Id"
                    : "UPDATE promotions SET state = 'archived', revision = revision + 1, touched_at = @now WHERE id = @Id",
                new { left.Id, now = Now() },
                transaction
            );
        }

        if (isLive)
            Publish(connection, transaction, null, reason);
        return changed;
    }

    /// <summary>
    /// Renames a word in what promotions say and in their drafts, and publishes one edition if what is live changes. What is retired is
    /// read
    /// through the rename.
    /// </summary>
    internal void Rename(WordRename rename, string? reason, IDbConnection connection, IDbTransaction transaction)
    {
        var isLive = false;
        // A document read so is renamed already; whether the version held the word, the stored one tells.
        var written = connection
            .Query<(string Id, string Document)>(
                "SELECT promotion_id, document FROM versions JOIN promotions USING (version) WHERE promotions.id = promotion_id",
                transaction: transaction
            )
            .ToDictionary(version => version.Id, version => version.Document, StringComparer.Ordinal);
        foreach (var current in connection.Query<StoredPromotion>($"{Select} WHERE state <> 'archived'", transaction: transaction))
        {
            var stored = written.GetValueOrDefault(current.Id);
            var draft = current.Draft is null ? null : WordRename.Renamed(rename, current.Draft);
            if (stored is not null && current.Document != stored)
            {
                isLive |= current.State == "live";
                SaveNext(connection, transaction, current, current.Document!, current.State, draft ?? current.Draft);
            }
            else if (draft is null)
            {
                continue;
            }

            connection.Execute(
                "UPDATE promotions SET draft = @draft, revision = revision + 1, touched_at = @now WHERE id = @Id",
                new
                {
                    current.Id,
                    draft = draft ?? current.Draft,
                    now = Now(),
                },
                transaction
            );
        }

        if (isLive)
            Publish(connection, transaction, null, reason);
    }

    private void Put(IncomingPromotion one, StoredPromotion? current, IDbConnection connection, IDbTransaction transaction)
    {
        connection.Execute(
            current is null
                ? "INSERT INTO promotions (id, state, draft, revision, touched_at) VALUES (@Id, 'draft', @Draft, 1, @now)"
                : "UPDATE promotions SET state = @state, draft = @Draft, revision = revision + 1, touched_at = @now WHERE id = @Id",
            new
            {
                one.Id,
                // What was saved once is not unsaved: without a saved version it is retired.
                state = one.Document is null && current?.Version is not null ? "archived" : one.State,
                one.Draft,
                now = Now(),
            },
            transaction
        );
        if (one.Document is { } document && !IsSameDocument(current?.Document, document))
            SaveNext(connection, transaction, current ?? new(one.Id, "draft", null, null, null, 1, Now()), document, one.State, one.Draft);
        connection.Execute("DELETE FROM meant WHERE promotion_id = @Id", new { one.Id }, transaction);
        connection.Execute(
            "INSERT INTO meant (promotion_id, finding, words, meant_at) VALUES (@Id, @Finding, @Words, @now)",
            one.Meant.Select(meant => new
            {
                one.Id,
                meant.Finding,
                meant.Words,
                now = Now(),
            }),
            transaction
        );
    }

    private static bool IsSame(StoredPromotion current, IncomingPromotion incoming) =>
        current.State == incoming.State
        && IsSameDocument(current.Document, incoming.Document)
        && IsSameDocument(current.Draft, incoming.Draft);

    // The state that a document names is not what counts: that stands beside it.
    private static bool IsSameDocument(string? one, string? other)
    {
        if (one is null || other is null)
            return one == other;
        var (left, right) = (JsonNode.Parse(one)!.AsObject(), JsonNode.Parse(other)!.AsObject());
        foreach (var member in (string[])["id", "state"])
        {
            left.Remove(member);
            right.Remove(member);
        }

        return JsonNode.DeepEquals(left, right);
    }
}
