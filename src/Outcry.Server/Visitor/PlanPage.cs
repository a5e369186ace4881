using System.Runtime.CompilerServices;
using System.Text.Json;
using NodaTime;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Saying;
using Outcry.Core.Visitors;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>POST /v/plan: what a page view may show. Reads no database unless a stage asks for its draft.</summary>
internal static class PlanPage
{
    public static async Task<IResult> HandleAsync(
        HttpContext http,
        LiveSites sites,
        SiteNews news,
        StageDraft stage,
        IClock clock
    )
    {
        var (request, unreadable) = await VisitorDoor.ReadAsync(http, VisitorJson.Default.PlanRequest);
        if (unreadable is not null)
            return unreadable;
        var (site, page, refused) = VisitorDoor.Check(http, sites, request!.Site, request.Page);
        if (refused is not null)
            return refused;

        var now = clock.GetCurrentInstant();
        var token = PrivateToken.TryRead(site!, request.Token, now);
        if (site!.Heard(request.Page, now))
            await news.TellAsync(site.Id, SiteChange.Heard, null, http.RequestAborted);
        var response =
            token?.T == PrivateToken.Stage && token.C is { } calloutId
                ? await stage.PlanAsync(site, page!, calloutId, now, http.RequestAborted)
                : Plan(site, page!, request, isMember: token is not null, now);
        return Results.Bytes(
            JsonSerializer.SerializeToUtf8Bytes(response, VisitorJson.Default.PlanResponse),
            "application/json"
        );
    }

    private static PlanResponse Plan(LiveSite site, PageAddress page, PlanRequest request, bool isMember, Instant now)
    {
        var visitor = Passport.TryRead(site, request.Passport);
        if (visitor is null || (isMember && !Passport.IsMember(visitor.VisitorId)))
            visitor = Passport.New(now, isMember);
        visitor = VisitorLog.Fold(site, visitor, request.Log, now).Arrive(now);
        if (!isMember)
            site.SawVisitor(visitor.VisitorId, now);

        var options = isMember ? PlanOptions.Explained : PlanOptions.Live;
        var plan = Planner.MakePlan(site.Snapshot, page, visitor, now, options);
        return Write(site, page, visitor, plan, now, isMember ? MarkOf(site, plan) : null, null, counted: !isMember);
    }

    public static PlanResponse Write(
        LiveSite site,
        PageAddress page,
        VisitorRecord visitor,
        Plan plan,
        Instant now,
        MarkPart? mark,
        StagePart? stage,
        bool counted
    )
    {
        var rules = site.Rules;
        var start = PageStart.Of(visitor, now);
        return new PlanResponse(
            visitor.VisitorId,
            Passport.Write(site, visitor),
            counted,
            new RulesPart(rules.MostAtOnce, rules.GapSeconds * 1000, rules.MostPerVisit, rules.PatienceSeconds * 1000),
            new VisitPart(start.Starts, start.SinceLastEndMs, start.HushLeftMs),
            [.. plan.Armed.Select(a => CueOf(a, onStage: stage is not null))],
            [
                .. site
                    .Forms.Where(f => f.Pages.Decide(page).Shown)
                    .Select(f => new FormPart(f.SourceId, f.Mapping.Form, f.Mapping.Wanted)),
            ],
            mark,
            stage
        );
    }

    // On the stage a callout is there at once and stays, so that it can be looked at while it is being written.
    private static CuePart CueOf(ArmedCallout armed, bool onStage)
    {
        var callout = armed.Callout;
        var look = callout.Brief.Look;
        return new CuePart(
            callout.Id,
            callout.Brief.Priority,
            onStage ? 0 : armed.DueMs,
            callout.Brief.When.TurnGapSeconds * 1000L,
            (long)callout.Hush.TotalMilliseconds,
            look.Side,
            look.Band,
            look.Ground,
            callout.Ink,
            look.CloseMark,
            callout.Brief.Say.NewTab,
            callout.Brief.Say.Picture != SayPicture.None,
            [
                .. armed
                    .Turns.Take(onStage ? 1 : int.MaxValue)
                    .Select((t, i) => TurnOf(t, onStage ? null : armed.StayMs(i))),
            ]
        );
    }

    private static readonly ConditionalWeakTable<PreparedTurn, ReadyTurn> Written = [];

    private static ReadyTurn TurnOf(PreparedTurn turn, long? stayMs) =>
        stayMs is null ? WriteTurn(turn, null) : Written.GetValue(turn, t => WriteTurn(t, stayMs));

    private static ReadyTurn WriteTurn(PreparedTurn turn, long? stayMs) =>
        new(
            JsonSerializer.SerializeToUtf8Bytes(
                new TurnPart(
                    [
                        .. turn.Spans.Select(s => new SpanPart(
                            s.Text,
                            s.Bold ? true : null,
                            s.Italic ? true : null,
                            s.Link
                        )),
                    ],
                    turn.Meta,
                    turn.Picture,
                    turn.Initials,
                    turn.Link,
                    stayMs
                ),
                VisitorJson.Default.TurnPart
            )
        );

    private static MarkPart MarkOf(LiveSite site, Plan plan)
    {
        var shown = plan.Armed.Select(a => $"\"{a.Callout.Name}\" is due at {ReasonSentence.Clock(a.DueMs)}.");
        var silent = plan.LeftOut.Select(l =>
            $"\"{l.Callout.Name}\" will not show. {ReasonSentence.Say(l.Reason, site.Zone, _ => null)}"
        );
        var lines = shown.Concat(silent).Take(6).ToList();
        if (lines.Count == 0)
            lines.Add("No callout is live yet.");
        return new MarkPart($"{site.Name} is connected. Only you see this; your visits are not counted.", lines);
    }
}
