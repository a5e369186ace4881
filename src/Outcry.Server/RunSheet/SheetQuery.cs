using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using NodaTime;
using NodaTime.Text;
using Outcry.Core.Briefs;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Rehearsing;
using Outcry.Core.Saying;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.RunSheet;

/// <summary>What the visitor of a run sheet has met before.</summary>
internal enum Persona
{
    /// <summary>Has never been here.</summary>
    New,

    /// <summary>Was here a day ago and met everything then.</summary>
    BackAfterADay,

    /// <summary>Closed a callout an hour ago.</summary>
    ClosedOne,
}

/// <summary>Whose run sheet is asked for, as of when, and with which change tried out, as it stands in an address.</summary>
internal sealed record SheetQuery
{
    /// <summary>What the visitor has met before: new, backAfterADay or closedOne.</summary>
    [FromQuery(Name = "persona")]
    public string? Persona { get; init; }

    /// <summary>A segment the visitor is to belong to.</summary>
    [FromQuery(Name = "segment")]
    public Guid? Segment { get; init; }

    /// <summary>desktop, tablet or phone.</summary>
    [FromQuery(Name = "device")]
    public string? Device { get; init; }

    /// <summary>BCP 47 tag; none for the site's own language.</summary>
    [FromQuery(Name = "language")]
    public string? Language { get; init; }

    /// <summary>Local date and time in the site's time zone, such as 2026-11-24T14:00; none for now.</summary>
    [FromQuery(Name = "at")]
    public string? At { get; init; }

    /// <summary>A change tried out: wait.CALLOUT.SECONDS, priority.CALLOUT.NUMBER or leaveOut.CALLOUT.PAGEGROUP.</summary>
    [FromQuery(Name = "trying")]
    public string? Trying { get; init; }

    private static readonly LocalDateTimePattern[] Times =
    [
        LocalDateTimePattern.CreateWithInvariantCulture("uuuu-MM-dd'T'HH:mm"),
        LocalDateTimePattern.GeneralIso,
    ];

    /// <summary>Reads the query for a site; a problem when it names what does not exist.</summary>
    public (SheetSetting? Setting, ProblemHttpResult? Problem) Read(LiveSite site, Instant now)
    {
        if (!QueryChoice.TryRead<Persona>(Persona, out var persona))
            return (null, Problems.BadField("persona", "The persona is new, backAfterADay or closedOne."));
        if (!QueryChoice.TryRead<Device>(Device, out var device))
            return (null, Problems.BadField("device", "The device is desktop, tablet or phone."));
        if (Language is { Length: > 0 } && !LanguageTag.IsWellFormed(Language))
            return (null, Problems.BadField("language", "The language is a BCP 47 tag such as en or de-AT."));
        if (!TryReadTime(site.Zone, now, out var at))
            return (null, Problems.BadField("at", "The time is a local date and time such as 2026-11-24T14:00."));
        var (change, changed, wrong) = TriedChange.Read(Trying, site);
        if (wrong is not null)
            return (null, Problems.BadField("trying", wrong));

        var start = Imagine(persona ?? RunSheet.Persona.New, site.Snapshot) with
        {
            Device = device ?? Core.Visitors.Device.Desktop,
            Languages = string.IsNullOrEmpty(Language) ? [] : [Language],
        };
        var cast = start;
        if (Segment is { } id)
        {
            if (!site.Context.Segments.TryGetValue(id, out var segment))
                return (null, Problems.BadField("segment", "This segment is gone."));
            if (Casting.TryCast(segment.Rule, site.Context.Segments, start, at, site.Zone) is not { } fitting)
                return (
                    null,
                    Problems.Of(
                        StatusCodes.Status422UnprocessableEntity,
                        "nobody",
                        "Nobody fits",
                        $"No such visitor can be in the segment \"{segment.Name}\". Choose another visitor or segment."
                    )
                );
            cast = fitting;
        }
        return (
            new SheetSetting(
                persona ?? RunSheet.Persona.New,
                cast,
                RehearsalWords.Assumed(start, cast),
                Segment,
                at,
                at == now,
                SnapshotAt(site, at, now),
                change,
                changed
            ),
            null
        );
    }

    private bool TryReadTime(DateTimeZone zone, Instant now, out Instant at)
    {
        at = now;
        if (string.IsNullOrEmpty(At))
            return true;
        foreach (var pattern in Times)
            if (pattern.Parse(At) is { Success: true } read)
            {
                at = WallClock.Opening(read.Value, zone);
                return true;
            }
        return false;
    }

    private static ImaginedVisitor Imagine(Persona persona, SiteSnapshot site) =>
        persona switch
        {
            RunSheet.Persona.BackAfterADay => new() { VisitNumber = 2, MetEverything = true },
            RunSheet.Persona.ClosedOne when site.Callouts.Count > 0 => new()
            {
                VisitNumber = 2,
                HoursSinceLastVisit = 1,
                Closed = [site.Callouts[0].Id],
            },
            RunSheet.Persona.ClosedOne => new() { VisitNumber = 2, HoursSinceLastVisit = 1 },
            _ => ImaginedVisitor.Newcomer,
        };

    // What will have happened by a time to come nobody knows: then evidence is as it is now.
    private static SiteSnapshot SnapshotAt(LiveSite site, Instant at, Instant now) =>
        at >= now ? site.Snapshot : PastSnapshots.Get(site, at);
}

/// <summary>Whose run sheet it is, as of when, and what is tried out.</summary>
/// <param name="Persona">What the visitor has met before.</param>
/// <param name="Who">The visitor.</param>
/// <param name="Assumed">What was taken for granted so that the visitor is in the segment.</param>
/// <param name="Segment">The segment asked for.</param>
/// <param name="At">When.</param>
/// <param name="IsNow">Whether that is now.</param>
/// <param name="Site">The site as of then, on air.</param>
/// <param name="Change">The change tried out.</param>
/// <param name="Changed">Of which callout.</param>
internal sealed record SheetSetting(
    Persona Persona,
    ImaginedVisitor Who,
    IReadOnlyList<string> Assumed,
    Guid? Segment,
    Instant At,
    bool IsNow,
    SiteSnapshot Site,
    BriefChange? Change,
    Callout? Changed
)
{
    /// <summary>A newcomer's sheet as of now.</summary>
    public static SheetSetting Plain(SiteSnapshot site, Instant now) =>
        new(Persona.New, ImaginedVisitor.Newcomer, [], null, now, true, site, null, null);
}
