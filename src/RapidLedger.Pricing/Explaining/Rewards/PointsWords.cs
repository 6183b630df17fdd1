namespace RapidLedger.Pricing;

/// <summary>Says how many points are awarded.</summary>
internal static class PointsWords
{
    public static string Say(Points points, Wording wording) =>
        points.Each is { } each
            ? $"{Wording.Counted(points.Number, "point")} for every {wording.Say(each)}"
            : Wording.Counted(points.Number, "point");
}
