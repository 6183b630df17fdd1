namespace RapidLedger.Server.Goods;

/// <summary>Takes lines of a kind in, one after the other, before anything of them is written.</summary>
internal interface IIncomingRows
{
    /// <summary>What is wrong with lines.</summary>
    IReadOnlyList<BadLine> Bad { get; }

    /// <summary>Takes a line in.</summary>
    void Add(IncomingLine line);
}
