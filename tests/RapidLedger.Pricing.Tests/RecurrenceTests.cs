using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using NodaTime;
using NodaTime.Text;

namespace RapidLedger.Pricing.Tests;

/// <summary>Recurrence rules against another implementation of RFC 5545, the library rrule, and what the RFC forbids.</summary>
public class RecurrenceTests
{
    private const string Script = """
        import rrule from 'rrule';
        const asked = JSON.parse(await new Response(process.stdin).text());
        const told = asked.map(({ start, rule, from }) => {
          const series = rrule.rrulestr(`DTSTART:${start}Z\nRRULE:${rule}`);
          const begin = new Date(from);
          const end = new Date(from);
          end.setUTCFullYear(end.getUTCFullYear() + 4);
          return series.between(begin, end, true, (_, count) => count < 12).map(at => at.toISOString().slice(0, 19));
        });
        process.stdout.write(JSON.stringify(told));
        """;

    private static readonly LocalDateTimePattern Basic = LocalDateTimePattern.CreateWithInvariantCulture("uuuuMMdd'T'HHmmss");
    private static readonly LocalDateTimePattern Iso = LocalDateTimePattern.CreateWithInvariantCulture("uuuu-MM-dd'T'HH:mm:ss");

    [Fact]
    public void A_rule_comes_up_to_the_last_year_that_is_counted_with() =>
        Assert.Equal(3, RecurrenceRule.Read("FREQ=YEARLY")!.Times(new(Window.LastYear - 2, 1, 1, 0, 0), DateTimeZone.Utc).Count());

    [Fact]
    public void Random_rules_come_at_the_times_of_another_implementation()
    {
        var random = new Random(5545);
        var asked = new List<(LocalDateTime Start, string Rule, LocalDateTime From)>();
        var drawn = 0;
        while (asked.Count < 700)
        {
            Assert.True(++drawn < 20_000, "Few rules hit.");
            var text = Rule(random);
            var rule = RecurrenceRule.Read(text);
            Assert.True(rule is not null, text);
            var any = new LocalDateTime(
                random.Next(2020, 2031),
                random.Next(1, 13),
                random.Next(1, 29),
                random.Next(24),
                random.Next(2) * 30,
                0
            );
            // One BYSETPOS, and not far from the end: of several that are the same time the other one tells it twice, and what is not there
            // it takes for the first. It begins at one of its times, as a window must; what hits only once in a blue moon is left out, for
            // the other one is slow to find it.
            if (rule.Times(any, DateTimeZone.Utc).Cast<LocalDateTime?>().FirstOrDefault() is not { } start || start.Year > any.Year + 9)
                continue;
            asked.Add((start, text, start.PlusDays(random.Next(4) == 0 ? random.Next(500) : 0)));
        }

        var told = Ask(
                asked.Select(one => new
                {
                    start = Basic.Format(one.Start),
                    rule = one.Rule,
                    from = Iso.Format(one.From) + "Z",
                })
            )
            .EnumerateArray()
            .ToArray();
        for (var i = 0; i < asked.Count; i++)
        {
            var (start, text, from) = asked[i];
            var times = new RecurrenceSeries(RecurrenceRule.Read(text)!, start, DateTimeZone.Utc)
                .From(from)
                .TakeWhile(time => time <= from.PlusYears(4))
                .Take(12)
                .Select(Iso.Format);
            Assert.True(
                told[i].EnumerateArray().Select(time => time.GetString()!).SequenceEqual(times),
                $"{Basic.Format(start)} {text} from {from}: {told[i]} {string.Join(' ', times)}"
            );
        }
    }

    [Fact]
    public void Looking_back_finds_the_same_times_as_looking_ahead()
    {
        var random = new Random(7);
        for (var number = 0; number < 600; number++)
        {
            var rule = RecurrenceRule.Read(Rule(random))!;
            var start = new LocalDateTime(2024, random.Next(1, 13), random.Next(1, 29), random.Next(24), 0, 0);
            var series = new RecurrenceSeries(rule, start, DateTimeZone.Utc);
            var all = series.From(start).TakeWhile(time => time.Year < 2029).ToArray();
            // Nothing comes before the start, from wherever it is asked for.
            Assert.Equal(all.Take(3), series.From(start.PlusDays(-random.Next(400))).TakeWhile(time => time.Year < 2029).Take(3));
            var at = start.PlusHours(random.Next(20_000));
            Assert.Equal(all.LastOrDefault(time => time <= at), series.Back(at).FirstOrDefault());
        }
    }

    [Theory]
    [InlineData("")]
    [InlineData("BYDAY=FR")]
    [InlineData("FREQ=SECONDLY")]
    [InlineData("FREQ=WEEKLY;FREQ=DAILY")]
    [InlineData("FREQ=WEEKLY;BYDAY=MO;BYDAY=TU")]
    [InlineData("FREQ=WEEKLY;")]
    [InlineData("FREQ=WEEKLY;COUNT=0")]
    [InlineData("FREQ=WEEKLY;INTERVAL=0")]
    [InlineData("FREQ=WEEKLY;COUNT=2;UNTIL=20270101")]
    [InlineData("FREQ=WEEKLY;UNTIL=2027-06-01")]
    [InlineData("FREQ=WEEKLY;UNTIL=20270230")]
    [InlineData("FREQ=WEEKLY;UNTIL=20271301")]
    [InlineData("FREQ=WEEKLY;UNTIL=20270100")]
    [InlineData("FREQ=YEARLY;BYDAY=54MO")]
    [InlineData("FREQ=WEEKLY;UNTIL=20270101T250000")]
    [InlineData("FREQ=WEEKLY;UNTIL=20270101T120000+01")]
    [InlineData("FREQ=WEEKLY;BYDAY=1MO")]
    [InlineData("FREQ=YEARLY;BYWEEKNO=20;BYDAY=1MO")]
    [InlineData("FREQ=WEEKLY;BYMONTHDAY=3")]
    [InlineData("FREQ=MONTHLY;BYYEARDAY=3")]
    [InlineData("FREQ=MONTHLY;BYWEEKNO=3")]
    [InlineData("FREQ=MONTHLY;BYSETPOS=1")]
    [InlineData("FREQ=MONTHLY;BYMONTHDAY=0")]
    [InlineData("FREQ=MONTHLY;BYMONTHDAY=32")]
    [InlineData("FREQ=DAILY;BYHOUR=24")]
    [InlineData("FREQ=DAILY;BYSECOND=61")]
    [InlineData("FREQ=YEARLY;BYYEARDAY=367")]
    [InlineData("FREQ=DAILY;UNTIL=20270101T240000Z")]
    [InlineData("FREQ=DAILY;BYHOUR=")]
    [InlineData("FREQ=DAILY;BYHOUR=1,,2")]
    [InlineData("FREQ=DAILY;WKST=XX")]
    [InlineData("FREQ=DAILY;RSCALE=GREGORIAN")]
    [InlineData("RRULE:FREQ=DAILY")]
    // Source: RFC 5545, section 3.3.10, the MUST and MUST NOT of each part.
    public void What_the_rfc_forbids_is_no_rule(string text) => Assert.Null(RecurrenceRule.Read(text));

    [Theory]
    [InlineData("FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30")]
    [InlineData("FREQ=HOURLY;INTERVAL=24;BYHOUR=3")]
    [InlineData("FREQ=DAILY;UNTIL=20260101")]
    [InlineData("FREQ=MONTHLY;BYMONTHDAY=31;BYMONTH=4,6,9,11")]
    [InlineData("FREQ=YEARLY;BYWEEKNO=20;BYMONTH=1")]
    public void A_rule_that_never_hits_is_known_to(string text) =>
        Assert.Null(new Repeat(RecurrenceRule.Read(text)!, Period.FromDays(1)).FirstFrom(new(2027, 1, 1, 0, 0), DateTimeZone.Utc));

    [Fact]
    public void Weeks_at_the_turn_of_the_year_are_those_of_iso_8601()
    {
        // Source: ISO 8601 as System.Globalization.ISOWeek has it.
        foreach (
            var (number, week) in ((int, Func<DateTime, bool>)[])
                [
                    (1, day => ISOWeek.GetWeekOfYear(day) == 1),
                    (53, day => ISOWeek.GetWeekOfYear(day) == 53),
                    (-1, day => ISOWeek.GetWeekOfYear(day) == ISOWeek.GetWeeksInYear(ISOWeek.GetYear(day))),
                ]
        )
        {
            var times = RecurrenceRule
                .Read($"FREQ=YEARLY;BYWEEKNO={number}")!
                .Times(new(2000, 1, 1, 0, 0), DateTimeZone.Utc)
                .TakeWhile(time => time.Year < 2100)
                .Select(time => time.ToDateTimeUnspecified());
            var days = Enumerable.Range(0, 36_525).Select(day => new DateTime(2000, 1, 1).AddDays(day)).Where(week);
            Assert.Equal(days, times);
        }
    }

    [Fact]
    public void Rules_that_are_written_alike_are_the_same()
    {
        Assert.Equal(RecurrenceRule.Read("FREQ=DAILY;COUNT=2"), RecurrenceRule.Read("FREQ=DAILY;COUNT=2"));
        Assert.NotEqual(RecurrenceRule.Read("FREQ=DAILY;COUNT=2"), RecurrenceRule.Read("FREQ=DAILY;COUNT=3"));
    }

    [Fact]
    public void Until_is_included_in_each_of_its_forms()
    {
        // To the last second of a day, and to a leap second, which counts as the one before it.
        foreach (var last in (string[])["UNTIL=20270103T235959", "UNTIL=20270103T235960Z", "BYSECOND=60;UNTIL=20270103"])
            Assert.NotNull(RecurrenceRule.Read($"FREQ=DAILY;{last}"));
        var zone = DateTimeZoneProviders.Tzdb["Europe/Berlin"];
        int Times(string until) => RecurrenceRule.Read($"FREQ=WEEKLY;UNTIL={until}")!.Times(new(2027, 5, 7, 17, 0), zone).Count();
        // 15:00Z is 17:00 in Berlin.
        Assert.Equal(
            [2, 1, 2, 1, 2, 1],
            ((string[])["20270514T150000Z", "20270514T145959Z", "20270514T170000", "20270514T165959", "20270514", "20270513"]).Select(Times)
        );
    }

    [Fact]
    public void A_far_occurrence_is_found_and_so_is_the_last_of_very_many()
    {
        var start = new LocalDateTime(1970, 1, 1, 0, 0);
        var seldom = new Occurrences(
            new(start, null, 0, new(RecurrenceRule.Read("FREQ=YEARLY;INTERVAL=100")!, Period.FromDays(1))),
            new(RecurrenceRule.Read("FREQ=YEARLY;INTERVAL=100")!, Period.FromDays(1)),
            DateTimeZone.Utc
        );
        Assert.Equal(new LocalDateTime(2070, 1, 1, 0, 0), seldom.Next(Instant.FromUtc(1970, 6, 1, 0, 0))!.Starts);
        Assert.Equal(new LocalDateTime(2170, 1, 1, 0, 0), seldom.Next(Instant.FromUtc(2070, 1, 1, 0, 0))!.Starts);
        Assert.Null(seldom.Next(Instant.FromUtc(2170, 1, 1, 0, 0)));
        var often = RecurrenceRule.Read("FREQ=HOURLY;COUNT=1500000")!;
        var series = new RecurrenceSeries(often, start, DateTimeZone.Utc);
        Assert.Equal(start.PlusHours(1_499_999), series.Back(new(2199, 12, 31, 0, 0)).First());
    }

    [Theory]
    // The clock goes from 2:00 to 3:00 on 28 March 2027 and from 3:00 to 2:00 on 31 October 2027. A day is a day of the calendar, an hour
    // is elapsed.
    [InlineData("2027-03-27T12:00", "P1D", "2027-03-27T11:00:00Z", "2027-03-28T10:00:00Z")]
    [InlineData("2027-03-27T12:00", "PT24H", "2027-03-27T11:00:00Z", "2027-03-28T11:00:00Z")]
    [InlineData("2027-10-30T12:00", "P1D", "2027-10-30T10:00:00Z", "2027-10-31T11:00:00Z")]
    // What is skipped moves forward by the gap; what happens twice means the first.
    [InlineData("2027-03-28T02:30", "PT1H", "2027-03-28T01:30:00Z", "2027-03-28T02:30:00Z")]
    [InlineData("2027-10-31T02:30", "PT1H", "2027-10-31T00:30:00Z", "2027-10-31T01:30:00Z")]
    public void An_occurrence_lasts_by_the_calendar_and_by_elapsed_time(string start, string lasts, string opens, string closes)
    {
        var from = LocalDateTimePattern.CreateWithInvariantCulture("uuuu-MM-dd'T'HH:mm").Parse(start).Value;
        var repeat = new Repeat(RecurrenceRule.Read("FREQ=YEARLY")!, PeriodPattern.NormalizingIso.Parse(lasts).Value);
        var open = Occurrences.Of(new(from, Repeat: repeat), DateTimeZoneProviders.Tzdb["Europe/Berlin"])!;
        Instant At(string text) => InstantPattern.ExtendedIso.Parse(text).Value;
        Assert.Equal(
            [false, true, true, false],
            new[] { At(opens) - Duration.FromSeconds(1), At(opens), At(closes) - Duration.FromSeconds(1), At(closes) }.Select(open.IsOpen)
        );
    }

    private static string Rule(Random random)
    {
        string[] days = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"];
        string Some(int[] of, int most) => string.Join(',', random.GetItems(of, random.Next(1, most + 1)).Distinct().Order());
        string[] frequencies = ["YEARLY", "MONTHLY", "WEEKLY", "DAILY", "HOURLY"];
        var frequency = frequencies[random.Next(5)];
        List<string> parts = [$"FREQ={frequency}"];
        void Maybe(int in_, string part)
        {
            if (random.Next(in_) == 0)
                parts.Add(part);
        }

        Maybe(3, $"INTERVAL={random.Next(1, 6)}");
        Maybe(4, $"BYMONTH={Some([1, 2, 3, 6, 10, 12], 3)}");
        var byWeek = frequency == "YEARLY" && random.Next(5) == 0;
        if (byWeek)
            parts.Add($"BYWEEKNO={Some([2, 20, 40], 2)}");
        if (frequency is "YEARLY" or "HOURLY")
            Maybe(6, $"BYYEARDAY={Some([1, 60, 100, 200, 365, 366, -1, -100], 2)}");
        if (frequency != "WEEKLY")
            Maybe(4, $"BYMONTHDAY={Some([1, 13, 15, 28, 29, 30, 31, -1, -2], 3)}");
        if (random.Next(3) == 0)
        {
            var nth = frequency is "YEARLY" or "MONTHLY" && !byWeek && random.Next(2) == 0;
            parts.Add(
                $"BYDAY={string.Join(',', random.GetItems(days, random.Next(1, 4)).Distinct().Select(day => (nth ? $"{random.GetItems([1, 2, -1, 5, -5], 1)[0]}" : "") + day))}"
            );
        }

        Maybe(4, $"BYHOUR={Some([0, 3, 9, 12, 23], 3)}");
        Maybe(8, $"BYMINUTE={Some([0, 15, 30], 2)}");
        // Of weeks it does not pick from the whole first one.
        if (frequency != "WEEKLY" && parts.Exists(part => part.StartsWith("BY", StringComparison.Ordinal)))
            Maybe(4, $"BYSETPOS={random.GetItems([1, 2, 3, -1], 1)[0]}");
        // Weeks of the year that begin on other days the other one counts wrongly: 2029 has 52 that begin on Thursdays, not 53.
        if (!byWeek)
            Maybe(6, $"WKST={days[random.Next(7)]}");
        Maybe(5, $"COUNT={random.Next(1, 20)}");
        return string.Join(';', parts);
    }

    private static JsonElement Ask(IEnumerable<object> asked)
    {
        using var node = Process.Start(
            new ProcessStartInfo("node", ["--input-type=module", "--eval", Script])
            {
                WorkingDirectory = Path.Combine(House.Root, "tests", "references"),
                RedirectStandardInput = true,
                RedirectStandardOutput = true,
            }
        )!;
        var output = node.StandardOutput.ReadToEndAsync();
        node.StandardInput.Write(JsonSerializer.Serialize(asked));
        node.StandardInput.Close();
        return JsonDocument.Parse(output.Result).RootElement;
    }
}
