using RapidLedger.Server.PastOrders;
using RapidLedger.Storage;

namespace RapidLedger.Server.Goods.Importing;

/// <summary>Writes what came in, whatever kind it is: all of it, or nothing where a line is bad.</summary>
internal sealed class IncomingWriter(GoodsWriter goods, PastOrderBatches past)
{
    /// <summary>Writes lines as one step of a file.</summary>
    /// <param name="file">The name of the file.</param>
    /// <param name="what">What is done, in words.</param>
    /// <param name="lines">The lines.</param>
    /// <param name="progress">Is told how many rows are written.</param>
    /// <param name="gone">Nobody waits any more.</param>
    public async Task<(StepOutcome Outcome, IReadOnlyList<BadLine> Bad)> Write(
        string file,
        string what,
        IIncomingRows lines,
        Action<int>? progress,
        CancellationToken gone
    )
    {
        var source = StepSource.File(file);
        return lines switch
        {
            _ when lines.Bad.Count > 0 => (StepOutcome.Nothing, lines.Bad),
            ItemLines items => await goods.Write(source, what, items, progress, gone),
            ShopperLines shoppers => await goods.Write(source, what, shoppers, progress, gone),
            PastOrderLines orders => (await past.Bring(source, what, orders.Orders(), progress, gone), []),
            _ => throw new InvalidOperationException("There is no other kind of rows."),
        };
    }
}
