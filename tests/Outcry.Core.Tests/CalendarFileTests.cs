using NodaTime;
using Outcry.Core.Greetings;

namespace Outcry.Core.Tests;

/// <summary>Closed dates from calendar files, by RFC 5545's own examples and by hand.</summary>
public sealed class CalendarFileTests
{
    private static readonly DateTimeZone London = DateTimeZoneProviders.Tzdb["Europe/London"];
    private static readonly LocalDate Today = new(1997, 1, 1);

    private static CalendarReading Read(string events, DateTimeZone? zone = null, LocalDate? today = null) =>
        CalendarFile.Read(
            $"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//hand//EN\r\n{events.ReplaceLineEndings("\r\n")}\r\nEND:VCALENDAR\r\n",
            zone ?? London,
            today ?? Today
        );

    private static string Said(DatedSpan span) =>
        $"{span.From:uuuu-MM-dd HH:mm} {span.Until:uuuu-MM-dd HH:mm} {span.Name}";

    [Fact]
    public void An_all_day_event_is_its_days()
    {
        // RFC 5545 §3.6.1: a day without an end, and several with one that is not included.
        var read = Read(
            """
            BEGIN:VEVENT
            UID:20070423T123432Z-541111@example.com
            DTSTAMP:20070423T123432Z
            DTSTART;VALUE=DATE:20070628
            DTEND;VALUE=DATE:20070709
            SUMMARY:Festival International de Jazz de Montreal
            END:VEVENT
            BEGIN:VEVENT
            UID:19970901T130000Z-123403@example.com
            DTSTAMP:19970901T130000Z
            DTSTART;VALUE=DATE:20071102
            SUMMARY:Our Blissful Anniversary
            END:VEVENT
            """,
            today: new LocalDate(2007, 1, 1)
        );
        Assert.Null(read.Fault);
        Assert.Equal(
            [
                "2007-06-28 00:00 2007-07-09 00:00 Festival International de Jazz de Montreal",
                "2007-11-02 00:00 2007-11-03 00:00 Our Blissful Anniversary",
            ],
            read.Spans.Select(Said)
        );
    }

    [Fact]
    public void A_time_of_another_zone_stands_on_our_clock()
    {
        var read = Read(
            """
            BEGIN:VEVENT
            UID:a
            DTSTAMP:19970714T170000Z
            DTSTART;TZID=America/New_York:19970714T133000
            DTEND;TZID=America/New_York:19970714T150000
            SUMMARY:Fitting
            END:VEVENT
            BEGIN:VEVENT
            UID:b
            DTSTAMP:19970714T170000Z
            DTSTART:19970715T080000Z
            DURATION:PT90M
            SUMMARY:Kiln
            END:VEVENT
            BEGIN:VEVENT
            UID:c
            DTSTAMP:19970714T170000Z
            DTSTART:19970716T090000
            DTEND:19970716T100000
            SUMMARY:Floating
            END:VEVENT
            """
        );
        Assert.Equal(
            [
                "1997-07-14 18:30 1997-07-14 20:00 Fitting",
                "1997-07-15 09:00 1997-07-15 10:30 Kiln",
                "1997-07-16 09:00 1997-07-16 10:00 Floating",
            ],
            read.Spans.Select(Said)
        );
    }

    [Fact]
    public void A_rule_is_followed_and_its_exceptions_are_left_out()
    {
        // §3.8.5.3, "Daily for 10 occurrences", with two of them taken out (§3.8.5.1).
        var read = Read(
            """
            BEGIN:VEVENT
            UID:daily
            DTSTAMP:19970901T000000Z
            DTSTART;TZID=America/New_York:19970902T090000
            DTEND;TZID=America/New_York:19970902T100000
            RRULE:FREQ=DAILY;COUNT=10
            EXDATE;TZID=America/New_York:19970903T090000,19970905T090000
            SUMMARY:Daily
            END:VEVENT
            """,
            DateTimeZoneProviders.Tzdb["America/New_York"]
        );
        Assert.Equal(new[] { 2, 4, 6, 7, 8, 9, 10, 11 }, read.Spans.Select(s => s.From.Day));
        Assert.All(read.Spans, s => Assert.Equal("daily", s.Uid));
    }

    [Fact]
    public void A_yearly_day_is_followed_for_two_years_and_no_further()
    {
        var read = Read(
            """
            BEGIN:VEVENT
            UID:xmas
            DTSTAMP:19970901T000000Z
            DTSTART;VALUE=DATE:19901225
            RRULE:FREQ=YEARLY
            SUMMARY:Christmas Day
            END:VEVENT
            """
        );
        Assert.Equal([1997, 1998], read.Spans.Select(s => s.From.Year));
    }

    [Fact]
    public void What_is_cancelled_or_takes_no_time_is_passed_over_and_counted()
    {
        var read = Read(
            """
            BEGIN:VEVENT
            UID:a
            DTSTAMP:19970901T000000Z
            DTSTART;VALUE=DATE:19971225
            STATUS:CANCELLED
            END:VEVENT
            BEGIN:VEVENT
            UID:b
            DTSTAMP:19970901T000000Z
            DTSTART;VALUE=DATE:19971226
            TRANSP:TRANSPARENT
            END:VEVENT
            BEGIN:VEVENT
            UID:c
            DTSTAMP:19970901T000000Z
            DTSTART;VALUE=DATE:19971227
            END:VEVENT
            """
        );
        Assert.Equal(2, read.LeftOut);
        Assert.Equal("1997-12-27 00:00 1997-12-28 00:00 Closed", Said(Assert.Single(read.Spans)));
    }

    [Fact]
    public void What_was_over_before_today_is_left_out_and_what_still_runs_is_not()
    {
        var read = Read(
            """
            BEGIN:VEVENT
            UID:a
            DTSTAMP:19960901T000000Z
            DTSTART;VALUE=DATE:19961220
            DTEND;VALUE=DATE:19970106
            SUMMARY:Winter
            END:VEVENT
            BEGIN:VEVENT
            UID:b
            DTSTAMP:19960901T000000Z
            DTSTART;VALUE=DATE:19961001
            SUMMARY:Gone
            END:VEVENT
            """
        );
        Assert.Equal("Winter", Assert.Single(read.Spans).Name);
    }

    [Theory]
    [InlineData("")]
    [InlineData("hello")]
    [InlineData("BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n")]
    [InlineData("BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART:yesterday\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n")]
    [InlineData(
        "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART;VALUE=DATE:19970101\r\nRRULE:FREQ=OFTEN\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
    )]
    [InlineData("<html><body>Sign in</body></html>")]
    public void What_is_no_calendar_is_told_in_a_sentence_and_never_thrown(string text)
    {
        var read = CalendarFile.Read(text, London, Today);
        Assert.True(read.Fault is { Length: > 10 } || read.Spans.Count == 0, text);
        Assert.Empty(read.Spans);
    }

    [Fact]
    public void A_rule_that_repeats_every_second_is_refused_not_followed()
    {
        var read = Read(
            """
            BEGIN:VEVENT
            UID:tick
            DTSTAMP:19970901T000000Z
            DTSTART:19970902T090000Z
            DTEND:19970902T090001Z
            RRULE:FREQ=SECONDLY
            END:VEVENT
            """
        );
        Assert.NotNull(read.Fault);
    }

    [Fact]
    public void Importing_the_same_event_again_replaces_it()
    {
        static DatedSpan On(int day, string uid) => DatedSpan.Day(new LocalDate(2015, 12, day), uid) with { Uid = uid };
        var byHand = DatedSpan.Day(new LocalDate(2015, 12, 1), "By hand");
        var kept = CalendarFile.PutIn(
            [byHand, On(24, "eve"), On(25, "day")],
            [On(26, "day"), On(27, "day"), On(31, "new")]
        );
        Assert.Equal([1, 24, 26, 27, 31], kept.Select(s => s.From.Day));
        Assert.Equal(kept, CalendarFile.PutIn(kept, [On(26, "day"), On(27, "day")]));
    }
}
