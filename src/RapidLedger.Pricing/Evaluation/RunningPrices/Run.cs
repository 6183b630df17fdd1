namespace RapidLedger.Pricing;

/// <summary>Units in a row of one line with the same running price.</summary>
/// <param name="Line">The line.</param>
/// <param name="Start">The place of the first of them in the line.</param>
/// <param name="Count">How many.</param>
/// <param name="Price">The running price of each.</param>
internal readonly record struct Run(int Line, int Start, int Count, long Price);

/// <summary>The first units of a run that no one before has spoken for.</summary>
internal readonly record struct RunPart(int Run, int Count);
