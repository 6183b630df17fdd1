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
        Gen.Select(Gen.Int[0, Zones.Length - 1].Select(number => Zones[number]), Gen.Int[0, 25 * 365 * 48])
            .Sample(
                (zone, halfHours) =>
                {
                    var local = new LocalDateTime(2001, 1, 1, 0, 0).PlusMinutes(halfHours * 30L);
                    var system = TimeZoneInfo.FindSystemTimeZoneById(zone);
                    var written = local.ToDateTimeUnspecified();
                    Instant expected;
                    if (system.IsInvalidTime(written))
                    {
                        // Forward by the gap: read with the offset of before it.
                        expected = Instant.FromDateTimeUtc(
                            DateTime.SpecifyKind(written - system.GetUtcOffset(written.AddHours(-3)), DateTimeKind.Utc)
                        );
                    }
                    else
                    {
                        // Of two, the first is the one with the greater offset.
                        var offset = system.IsAmbiguousTime(written)
                            ? system.GetAmbiguousTimeOffsets(written).Max()
                            : system.GetUtcOffset(written);
                        expected = Instant.FromDateTimeUtc(DateTime.SpecifyKind(written - offset, DateTimeKind.Utc));
                    }

                    var open = new Window(local, local.PlusYears(1), 7).In(DateTimeZoneProviders.Tzdb[zone]);
                    Assert.Equal(expected - Duration.FromMinutes(7), open.Opens);
                    Assert.False(open.IsAhead(open.Opens));
                    Assert.True(open.IsAhead(open.Opens - Duration.Epsilon));
                    Assert.True(open.IsOver(open.Closes));
                    Assert.False(open.IsOver(open.Closes - Duration.Epsilon));
                }
            );

    [Theory]
    // Source: RFC 5545, section 3.8.5.3, the examples of that section.
    [InlineData("1997-09-02", "FREQ=DAILY;COUNT=10", "09-02 09-03 09-04 09-05 09-06 09-07 09-08 09-09 09-10 09-11")]
    [InlineData("1997-09-02", "FREQ=DAILY;INTERVAL=10;COUNT=5", "09-02 09-12 09-22 10-02 10-12")]
    [InlineData("1998-01-01", "FREQ=YEARLY;UNTIL=20000131T140000Z;BYMONTH=1;BYDAY=SU,MO,TU,WE,TH,FR,SA", "01-01 01-02 01-03 01-04 01-05")]
    [InlineData(
        "1997-09-02",
        "FREQ=WEEKLY;UNTIL=19971224T000000Z",
        "09-02 09-09 09-16 09-23 09-30 10-07 10-14 10-21 10-28 11-04 11-11 11-18 11-25 12-02 12-09 12-16 12-23"
    )]
    [InlineData("1997-09-02", "FREQ=WEEKLY;INTERVAL=2;WKST=SU", "09-02 09-16 09-30 10-14 10-28 11-11 11-25 12-09 12-23 01-06 01-20 02-03")]
    [InlineData("1997-09-02", "FREQ=WEEKLY;COUNT=10;WKST=SU;BYDAY=TU,TH", "09-02 09-04 09-09 09-11 09-16 09-18 09-23 09-25 09-30 10-02")]
    [InlineData(
        "1997-09-01",
        "FREQ=WEEKLY;INTERVAL=2;UNTIL=19971224T000000Z;WKST=SU;BYDAY=MO,WE,FR",
        "09-01 09-03 09-05 09-15 09-17 09-19 09-29 10-01 10-03 10-13 10-15 10-17 10-27 10-29 10-31 11-10 11-12 11-14 11-24 11-26 11-28 12-08 12-10 12-12 12-22"
    )]
    [InlineData("1997-09-22", "FREQ=MONTHLY;COUNT=6;BYDAY=-2MO", "09-22 10-20 11-17 12-22 01-19 02-16")]
    [InlineData("1997-09-02", "FREQ=MONTHLY;COUNT=10;BYMONTHDAY=2,15", "09-02 09-15 10-02 10-15 11-02 11-15 12-02 12-15 01-02 01-15")]
    [InlineData("1997-09-30", "FREQ=MONTHLY;COUNT=10;BYMONTHDAY=1,-1", "09-30 10-01 10-31 11-01 11-30 12-01 12-31 01-01 01-31 02-01")]
    [InlineData(
        "1997-09-10",
        "FREQ=MONTHLY;INTERVAL=18;COUNT=10;BYMONTHDAY=10,11,12,13,14,15",
        "09-10 09-11 09-12 09-13 09-14 09-15 03-10 03-11 03-12 03-13"
    )]
    [InlineData(
        "1997-09-02",
        "FREQ=MONTHLY;INTERVAL=2;BYDAY=TU",
        "09-02 09-09 09-16 09-23 09-30 11-04 11-11 11-18 11-25 01-06 01-13 01-20 01-27"
    )]
    [InlineData(
        "1997-03-10",
        "FREQ=YEARLY;INTERVAL=2;COUNT=10;BYMONTH=1,2,3",
        "03-10 01-10 02-10 03-10 01-10 02-10 03-10 01-10 02-10 03-10"
    )]
    [InlineData(
        "1997-01-01",
        "FREQ=YEARLY;INTERVAL=3;COUNT=10;BYYEARDAY=1,100,200",
        "01-01 04-10 07-19 01-01 04-09 07-18 01-01 04-10 07-19 01-01"
    )]
    [InlineData("1997-05-19", "FREQ=YEARLY;BYDAY=20MO", "05-19 05-18 05-17")]
    [InlineData("1997-05-12", "FREQ=YEARLY;BYWEEKNO=20;BYDAY=MO", "05-12 05-11 05-17")]
    [InlineData("1997-03-13", "FREQ=YEARLY;BYMONTH=3;BYDAY=TH", "03-13 03-20 03-27 03-05 03-12 03-19 03-26 03-04 03-11 03-18 03-25")]
    [InlineData("1998-02-13", "FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13", "02-13 03-13 11-13 08-13 10-13")]
    [InlineData(
        "1997-09-13",
        "FREQ=MONTHLY;BYDAY=SA;BYMONTHDAY=7,8,9,10,11,12,13",
        "09-13 10-11 11-08 12-13 01-10 02-07 03-07 04-11 05-09 06-13"
    )]
    [InlineData("1996-11-05", "FREQ=YEARLY;INTERVAL=4;BYMONTH=11;BYDAY=TU;BYMONTHDAY=2,3,4,5,6,7,8", "11-05 11-07 11-02")]
    [InlineData("1997-09-29", "FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-2", "09-29 10-30 11-27 12-30 01-29 02-26 03-30")]
    [InlineData("2007-01-15", "FREQ=MONTHLY;BYMONTHDAY=15,30;COUNT=5", "01-15 01-30 02-15 03-15 03-30")]
    [InlineData("1997-09-02", "FREQ=WEEKLY;COUNT=10", "09-02 09-09 09-16 09-23 09-30 10-07 10-14 10-21 10-28 11-04")]
    [InlineData("1997-09-02", "FREQ=WEEKLY;INTERVAL=2;COUNT=8;WKST=SU;BYDAY=TU,TH", "09-02 09-04 09-16 09-18 09-30 10-02 10-14 10-16")]
    [InlineData("1997-09-05", "FREQ=MONTHLY;COUNT=10;BYDAY=1FR", "09-05 10-03 11-07 12-05 01-02 02-06 03-06 04-03 05-01 06-05")]
    [InlineData(
        "1997-09-07",
        "FREQ=MONTHLY;INTERVAL=2;COUNT=10;BYDAY=1SU,-1SU",
        "09-07 09-28 11-02 11-30 01-04 01-25 03-01 03-29 05-03 05-31"
    )]
    [InlineData("1997-09-28", "FREQ=MONTHLY;BYMONTHDAY=-3", "09-28 10-29 11-28 12-29 01-29 02-26")]
    [InlineData("1997-06-10", "FREQ=YEARLY;COUNT=10;BYMONTH=6,7", "06-10 07-10 06-10 07-10 06-10 07-10 06-10 07-10 06-10 07-10")]
    [InlineData("1997-09-04", "FREQ=MONTHLY;COUNT=3;BYDAY=TU,WE,TH;BYSETPOS=3", "09-04 10-07 11-06")]
    [InlineData("1997-08-05", "FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=MO", "08-05 08-10 08-19 08-24")]
    [InlineData("1997-08-05", "FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=SU", "08-05 08-17 08-19 08-31")]
    public void Recurrences_are_those_of_rfc_5545(string first, string rule, string expected)
    {
        var start = NodaTime.Text.LocalDatePattern.Iso.Parse(first).Value.At(new LocalTime(9, 0));
        var wanted = expected.Split(' ');
        Assert.Equal(
            wanted,
            RecurrenceRule
                .Read(rule)!
                .Times(start, DateTimeZoneProviders.Tzdb["America/New_York"])
                .Take(wanted.Length)
                .Select(time => time.ToString("MM-dd", null))
        );
    }

    [Fact]
    public void A_repeating_window_is_open_from_each_time_on_for_as_long_as_it_lasts_and_ended_after_the_last()
    {
        var zone = DateTimeZoneProviders.Tzdb["Europe/Berlin"];
        var window = new Window(new(2027, 3, 5, 17, 0), null, 10, new(RecurrenceRule.Read("FREQ=WEEKLY;COUNT=3")!, Period.FromHours(2)));
        var rulebook = Rulebook.Compile(
            new(RandomCase.Eur, zone),
            new([], [new("p", "P", [new("A", RandomCase.Money(100))])]),
            [new("p", [new Points(1)], Window: window)]
        );
        string? At(int day, int hour, int minute) =>
            rulebook
                .Price(new(new LocalDateTime(2027, 3, day, hour, minute).InZoneLeniently(zone).ToInstant(), [new("A", 1)]))
                .Outcomes[0]
                .Reason?.Code;
        Assert.Equal(
            ["notStarted", null, null, "betweenOccurrences", null, null, "ended"],
            [At(5, 16, 49), At(5, 16, 50), At(5, 19, 9), At(5, 19, 10), At(12, 18, 0), At(19, 19, 9), At(19, 19, 10)]
        );
    }
}
