using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Launchers;

/// <summary>A calendar file to be looked at.</summary>
/// <param name="Text">The file.</param>
/// <param name="Zone">IANA zone on whose clock its times are to stand.</param>
/// <param name="Closed">The closed dates there are.</param>
internal sealed record CalendarRequest(string Text, string Zone, IReadOnlyList<DatedSpan> Closed);

/// <summary>What a calendar file would bring.</summary>
/// <param name="Closed">The closed dates with those of the file put in.</param>
/// <param name="New">Those that were not there before.</param>
/// <param name="Replaced">How many of those there were the file says anew.</param>
/// <param name="LeftOut">Events passed over because they are cancelled or take up no time.</param>
internal sealed record CalendarView(
    IReadOnlyList<DatedSpan> Closed,
    IReadOnlyList<DatedSpan> New,
    int Replaced,
    int LeftOut
);

/// <summary>Reads closed dates from a calendar file. Nothing is kept: they go into the draft with its next save.</summary>
internal static class ReadCalendar
{
    public static Results<Ok<CalendarView>, ProblemHttpResult> Handle(
        Guid siteId,
        CalendarRequest request,
        LiveSites sites,
        IClock clock
    )
    {
        _ = sites.GetById(siteId);
        if (request.Text.Length > CalendarFile.MostBytes)
            return Problems.BadField("text", "The file is larger than 1 MB. Export fewer dates.");
        if (DateTimeZoneProviders.Tzdb.GetZoneOrNull(request.Zone) is not { } zone)
            return Problems.BadField("zone", "There is no such time zone.");
        var read = CalendarFile.Read(request.Text, zone, clock.GetCurrentInstant().InZone(zone).Date);
        if (read.Fault is { } fault)
            return Problems.BadField("text", fault);
        var all = CalendarFile.PutIn(request.Closed, read.Spans);
        return TypedResults.Ok(
            new CalendarView(all, [.. all.Except(request.Closed)], request.Closed.Except(all).Count(), read.LeftOut)
        );
    }
}
