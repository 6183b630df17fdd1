using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>Writes down and counts what becomes of orders: by their change numbers, without ids, codes or carts.</summary>
internal sealed partial class OrderLog(ILogger<OrderLog> log)
{
    /// <summary>An order was placed, taken or given back.</summary>
    /// <param name="what">placed, taken or givenBack.</param>
    /// <param name="order">As it is now.</param>
    public void Changed(string what, StoredOrder order)
    {
        Metrics.Ordered(what);
        if (what == "placed" && order.State == "held")
            Metrics.Ordered("held");
        Write(log, what, order.Change, order.State, order.Edition, order.Rehearsal);
    }

    /// <summary>A placing was refused.</summary>
    public void Refused(int status)
    {
        Metrics.Ordered("refused");
        WriteRefused(log, status);
    }

    [LoggerMessage(
        Level = LogLevel.Information,
        Message = "Order {What}: change {Change}, {State}, edition {Edition}, rehearsal {Rehearsal}"
    )]
    private static partial void Write(ILogger log, string what, long change, string state, long edition, bool rehearsal);

    [LoggerMessage(Level = LogLevel.Information, Message = "Placing refused: {Status}")]
    private static partial void WriteRefused(ILogger log, int status);
}
