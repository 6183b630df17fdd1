using CsCheck;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>Windows against the system's own time-zone data, recurrences against the examples of RFC 5545.</summary>
public class WindowTests
{
    private static readonly string[] Zones = ["Europe/Berlin", "America/New_York", "Asia/Tokyo", "Australia/Lord_Howe", "Atlantic/Azores"];

    [Fact]
    public void Edges_are_those_of_the_systems_time_zone_data() =>
        // Source: the tz database as the operating system ships it, read by .NET's TimeZoneInfo; NodaTime brings its own copy.
        Gen.Select(Gen.Int[0, Zones.Length - 1].Select(number => Zones[number]), Gen.Int[0, 25 * 365 * 48]).Sample((zone, halfHours) =>
        {
            var local = new LocalDateTime(2001, 1, 1, 0, 0).PlusMinutes(halfHours * 30L);
            var system = TimeZoneInfo.FindSystemTimeZoneById(zone);
            var written = local.ToDateTimeUnspecified();
            Instant expected;
            if (system.IsInvalidTime(written))
            {
                // Forward by the gap: read with the offset of before it.
                expected = Instant.FromDateTimeUtc(DateTime.SpecifyKind(written - system.GetUtcOffset(written.AddHours(-3)), DateTimeKind.Utc));
            }
            else
            {
                // Of two, the first is the one with the greater offset.
                var offset = system.IsAmbiguousTime(written) ? system.GetAmbiguousTimeOffsets(written).Max() : system.GetUtcOffset(written);
                expected = Instant.FromDateTimeUtc(DateTime.SpecifyKind(written - offset, DateTimeKind.Utc));
            }

            var open = new Window(local, local.PlusYears(1), 7).In(DateTimeZoneProviders.Tzdb[zone]);
            Assert.Equal(expected - Duration.FromMinutes(7), open.Opens);
            Assert.False(open.IsAhead(open.Opens));
            Assert.True(open.IsAhead(open.Opens - Duration.Epsilon));
            Assert.True(open.IsOver(open.Closes));
            Assert.False(open.IsOver(open.Closes - Duration.Epsilon));
        });

    [Theory]
    // Source: RFC 5545, section 3.8.5.3, the examples of that section.
    [InlineData("1997-09-02", "FREQ=DAILY;COUNT=10", "09-02 09-03 09-04 09-05 09-06 09-07 09-08 09-09 09-10 09-11")]
    [InlineData("1997-09-02", "FREQ=DAILY;INTERVAL=10;COUNT=5", "09-02 09-12 09-22 10-02 10-12")]
    [InlineData("1997-09-02", "FREQ=WEEKLY;COUNT=10", "09-02 09-09 09-16 09-23 09-30 10-07 10-14 10-21 10-28 11-04")]
    [InlineData("1997-09-02", "FREQ=WEEKLY;INTERVAL=2;COUNT=8;WKST=SU;BYDAY=TU,TH", "09-02 09-04 09-16 09-18 09-30 10-02 10-14 10-16")]
    [InlineData("1997-09-05", "FREQ=MONTHLY;COUNT=10;BYDAY=1FR", "09-05 10-03 11-07 12-05 01-02 02-06 03-06 04-03 05-01 06-05")]
    [InlineData("1997-09-07", "FREQ=MONTHLY;INTERVAL=2;COUNT=10;BYDAY=1SU,-1SU", "09-07 09-28 11-02 11-30 01-04 01-25 03-01 03-29 05-03 05-31")]
    [InlineData("1997-09-28", "FREQ=MONTHLY;BYMONTHDAY=-3", "09-28 10-29 11-28 12-29 01-29 02-26")]
    [InlineData("1997-06-10", "FREQ=YEARLY;COUNT=10;BYMONTH=6,7", "06-10 07-10 06-10 07-10 06-10 07-10 06-10 07-10 06-10 07-10")]
    [InlineData("1997-09-04", "FREQ=MONTHLY;COUNT=3;BYDAY=TU,WE,TH;BYSETPOS=3", "09-04 10-07 11-06")]
    [InlineData("1997-08-05", "FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=MO", "08-05 08-10 08-19 08-24")]
    [InlineData("1997-08-05", "FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=SU", "08-05 08-17 08-19 08-31")]
    public void Recurrences_are_those_of_rfc_5545(string first, string rule, string expected)
    {
        var start = NodaTime.Text.LocalDatePattern.Iso.Parse(first).Value.At(new LocalTime(9, 0));
        var wanted = expected.Split(' ');
        Assert.Equal(wanted, Occurrences.Times(start, rule).Take(wanted.Length).Select(time => time.ToString("MM-dd", null)));
    }

    [Fact]
    public void A_repeating_window_is_open_from_each_time_on_for_as_long_as_it_lasts_and_ended_after_the_last()
    {
        var zone = DateTimeZoneProviders.Tzdb["Europe/Berlin"];
        var window = new Window(new(2027, 3, 5, 17, 0), null, 10, new("FREQ=WEEKLY;COUNT=3", Period.FromHours(2)));
        var open = new Occurrences(window, window.Repeat!, zone);
        string? At(int day, int hour, int minute) => open.Refuses(new LocalDateTime(2027, 3, day, hour, minute).InZoneLeniently(zone).ToInstant())?.Code;
        Assert.Equal(
            ["betweenOccurrences", null, null, "betweenOccurrences", null, null, "ended"],
            [At(5, 16, 49), At(5, 16, 50), At(5, 19, 9), At(5, 19, 10), At(12, 18, 0), At(19, 19, 9), At(19, 19, 10)]);
    }
}
