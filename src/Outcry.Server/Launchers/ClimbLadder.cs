using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using NodaTime.Text;
using Outcry.Core.Explaining;
using Outcry.Core.Greetings;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Rehearsing;
using Outcry.Core.Timing;
using Outcry.Server.Platform;
using Outcry.Server.RunSheet;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Launchers;

/// <summary>Who climbs, where and when.</summary>
/// <param name="At">Local date and time of the site such as 2015-11-24T14:00; now when left out.</param>
internal sealed record ClimbRequest(ImaginedVisitor Visitor, string Path, string? At = null);

/// <summary>What becomes of a rung for one visitor on one page.</summary>
internal enum RungVerdict
{
    /// <summary>It is the one.</summary>
    Wins,

    /// <summary>It is the one, but how often, a hush or its words keep it back.</summary>
    KeptBack,

    /// <summary>It does not fit.</summary>
    PassedOver,

    /// <summary>One above it fits.</summary>
    NotReached,
}

/// <param name="DueMs">When it is due, where time alone decides.</param>
/// <param name="Says">When it is due, or why it does not greet.</param>
/// <param name="Control">What of it decides.</param>
internal sealed record ClimbedRungView(Guid Id, RungVerdict Verdict, long? DueMs, string Says, ControlPlace? Control);

/// <summary>A ladder climbed.</summary>
/// <param name="Stands">Whether the launcher stands on the page.</param>
/// <param name="Away">Why it does not.</param>
/// <param name="IsOpen">Whether it is open.</param>
/// <param name="Visit">Number of the visit, and of the page in it.</param>
/// <param name="Problem">What keeps the draft from being tried at all.</param>
internal sealed record ClimbView(
    Instant At,
    bool Stands,
    string? Away,
    bool IsOpen,
    Instant? OpensAt,
    Instant? ClosesAt,
    IReadOnlyList<ClimbedRungView> Rungs,
    string? Problem
);

/// <summary>Climbs a draft's ladder for a visitor, rung by rung with the reason, by the planner that serves real ones.</summary>
internal static class ClimbLadder
{
    public static async Task<Results<Ok<ClimbView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid id,
        ClimbRequest request,
        OutcryDb db,
        LiveSites sites,
        IClock clock,
        CancellationToken stop
    )
    {
        if (request.Visitor.Problem is { } odd)
            return Problems.BadField("visitor", odd);
        if (await db.FindDefinitionAsync(siteId, LauncherKind.Launcher, id, stop) is not { } row)
            return Problems.NotFound("launcher");
        var site = sites.GetById(siteId);
        if (PageAddress.TryAt(new Uri(site.HomeAddress).Authority, request.Path) is not { } page)
            return Problems.BadField("path", "This is no page of the site: a path begins with /.");
        var now = clock.GetCurrentInstant();
        if (TimeOf(request.At, now, site) is not { } at)
            return Problems.BadField("at", "The time is a local date and time such as 2026-11-24T14:00.");
        var (launcher, problem) = DraftLauncher.TryCompile(row, site, now);
        return TypedResults.Ok(
            launcher is null
                ? new ClimbView(at, false, null, false, null, null, [], problem)
                : Climb(site, site.Snapshot.OnAir().Trying(launcher), launcher, page, request.Visitor, at)
        );
    }

    private static ClimbView Climb(
        LiveSite site,
        SiteSnapshot snapshot,
        Launcher launcher,
        PageAddress page,
        ImaginedVisitor who,
        Instant at
    )
    {
        var visitor = who.RecordAt("rehearsal", at, snapshot.Callouts).Arrive(at).CameIn(who.CameBy);
        var plan = Planner.MakePlan(
            snapshot,
            page,
            visitor,
            who.FactsAt(at, site.Zone),
            at,
            new PlanOptions(Explain: true) { PastEvents = who.PastEventsAt(at), AsShare = true }
        );
        var names = NotShownView.Names(snapshot);
        string Say(Reason reason) => ReasonSentence.Say(reason, site.Zone, n => names.GetValueOrDefault(n));
        var available = launcher.At(at, TeamThere.All);
        var away = plan.Away.FirstOrDefault(a => a.Launcher.Id == launcher.Id);
        return new ClimbView(
            at,
            plan.Stands?.Id == launcher.Id,
            away is null ? null : Say(away.Reason),
            available.IsOpen,
            available.OpensAt,
            available.ClosesAt,
            [.. launcher.Greetings.Select(g => RungOf(g.Id, plan, Say))],
            null
        );
    }

    private static ClimbedRungView RungOf(Guid greeting, Plan plan, Func<Reason, string> say)
    {
        if (plan.Armed.FirstOrDefault(a => a.Callout.Id == greeting) is { } armed)
            return new ClimbedRungView(greeting, RungVerdict.Wins, armed.DueMs, armed.DueWords, null);
        if (plan.LeftOut.FirstOrDefault(l => l.Callout.Id == greeting) is not { Reason: var reason })
            return new ClimbedRungView(greeting, RungVerdict.PassedOver, null, "", null);
        var verdict = reason switch
        {
            RungAbove => RungVerdict.NotReached,
            SeenOften
            or Hushed
            or ClosedBefore
            or Succeeded
            or GreetedEnough
            or NeverDue
            or WordingFailed
            or Replaced => RungVerdict.KeptBack,
            _ => RungVerdict.PassedOver,
        };
        return new ClimbedRungView(greeting, verdict, null, say(reason), ReasonCatalogue.ControlOf(reason));
    }

    public static Instant? TimeOf(string? text, Instant now, LiveSite site) =>
        string.IsNullOrEmpty(text) ? now
        : LocalDateTimePattern.GeneralIso.Parse(text.Length == 16 ? $"{text}:00" : text) is { Success: true } read
            ? WallClock.Opening(read.Value, site.Zone)
        : null;
}
