using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Core.Targeting;
using Outcry.Core.Visitors;
using Outcry.Server.Care;
using Outcry.Server.Intake;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
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
        TrialWalk trial,
        Robots robots,
        Places places,
        SnippetFiles files,
        TeamPresence team,
        IClock clock
    )
    {
        var (request, unreadable) = await VisitorDoor.ReadAsync(http, VisitorJson.Default.PlanRequest);
        if (unreadable is not null)
            return unreadable;
        var now = clock.GetCurrentInstant();
        if (sites.FindByKey(request!.Site) is { } known && Sketched(http, known, request, now) is { } sketched)
            return new PlanAnswer(
                await stage.PlanAsync(known, sketched.Page, request, sketched.Token, now, http.RequestAborted)
            );
        var (site, page, refused) = VisitorDoor.Check(http, sites, request.Site, request.Page, now);
        if (refused is not null)
            return refused;

        var token = PrivateToken.TryRead(site!, request.Token, now);
        // A draft on the stage may ask for what nobody asked for before; of everybody else only what is asked for is read.
        page = token is { T: PrivateToken.Stage or PrivateToken.Trial } ? page! : page!.Keeping(site!.AskedQuery);
        if (site!.Hearing.Heard(page, now))
            await news.TellAsync(site.Id, SiteChange.Heard);
        var desk = $"{http.Request.Scheme}://{http.Request.Host}";
        var response =
            token?.T == PrivateToken.Trial
                ? await trial.PlanAsync(site, page!, request, token, desk, now, http.RequestAborted)
            : token is { T: PrivateToken.Stage, C: not null }
                ? await stage.PlanAsync(site, page!, request, token, now, http.RequestAborted)
            : Plan(
                site,
                page!,
                request,
                ReadFacts.Of(request, places.Find(http.Connection.RemoteIpAddress)),
                isMember: token is not null,
                isRobot: robots.IsRobot(http.Request.Headers.UserAgent.ToString()),
                files.Paths,
                team,
                desk,
                now
            );
        Telemetry.Planned();
        return new PlanAnswer(response);
    }

    // A sketch is a page of the desk's own: it needs a stage's link, counts as no word from the site, and shows a draft only.
    private static (PageAddress Page, PrivateTokenBody Token)? Sketched(
        HttpContext http,
        LiveSite site,
        PlanRequest request,
        Instant now
    ) =>
        StageSketch.PageOf(http.Request, request.Page, site) is { } page
        && PrivateToken.TryRead(site, request.Token, now) is { T: PrivateToken.Stage, C: not null } token
            ? (page, token)
            : null;

    private static PlanResponse Plan(
        LiveSite site,
        PageAddress page,
        PlanRequest request,
        VisitorFacts facts,
        bool isMember,
        bool isRobot,
        FilePaths files,
        TeamPresence team,
        string desk,
        Instant now
    )
    {
        var visitor = Passport.TryRead(site, request.Passport);
        if (visitor is null || (isMember && !Passport.IsMember(visitor.VisitorId)))
            visitor = Passport.New(now, isMember);
        visitor = VisitorLog.Fold(site, visitor, request.Log, now);
        // Asked once more on the same page view, nothing has arrived.
        if (!request.Again || Passport.TryRead(site, request.Passport, page, now) is not (_, true))
            visitor = visitor.Arrive(now).CameIn(ReadFacts.WayIn(site, page, request.Referrer));
        // A passport of a member's browser or of a trial visit is one also where its link got lost: it is nobody's visit.
        var counted = !isMember && !isRobot && !Passport.IsMember(visitor.VisitorId);
        if (counted)
            site.SawVisitor(visitor.VisitorId, page, now);

        var options = isMember ? PlanOptions.Explained : PlanOptions.Live;
        var plan = Planner.MakePlan(site.Snapshot, page, visitor, facts, now, options);
        var response = Write(
            site,
            page,
            visitor,
            plan,
            now,
            isMember ? MarkOf(site, plan, desk, files.Member) : null,
            null,
            counted,
            files,
            store: Consent.MayStore(site.Consent, request.Agreed, request.Gpc)
        );
        return response with
        {
            Ask =
                response.Ask is { } asks && facts.Place.Country is { Length: > 0 } country
                    ? asks with
                    {
                        Country = country,
                    }
                    : response.Ask,
            // Who is there is asked only where it is read.
            Launcher = plan.Stands is not { } stands
                ? null
                : LauncherOf(
                    plan,
                    new LauncherReader(
                        site,
                        page,
                        facts,
                        team.NamesOf(site.WorkspaceId, stands.Brief.GroupId),
                        site.Snapshot.Conditions.Team,
                        now
                    ),
                    files
                ),
        };
    }

    /// <summary>The launcher of a plan; null where none stands.</summary>
    public static LauncherPart? LauncherOf(Plan plan, LauncherReader reader, FilePaths files) =>
        plan.Stands is { } launcher ? WriteLauncher.Of(launcher, reader, files) : null;

    public static PlanResponse Write(
        LiveSite site,
        PageAddress page,
        VisitorRecord visitor,
        Plan plan,
        Instant now,
        MarkPart? mark,
        StagePart? stage,
        bool counted,
        FilePaths files,
        bool store = false
    )
    {
        var rules = site.Rules;
        var start = PageStart.Of(visitor, now);
        var asks = plan.Armed.Any(a => a.Callout.Brief.Ask is not null);
        return new PlanResponse(
            visitor.VisitorId,
            Passport.Write(site, visitor, page, now),
            counted,
            store,
            new RulesPart(
                rules.MostAtOnce,
                rules.GapSeconds * 1000,
                rules.MostPerVisit,
                rules.PatienceSeconds * 1000,
                rules.ConsentNotice.Length == 0 ? null : rules.ConsentNotice,
                rules.KeepClear.Length == 0 ? null : rules.KeepClear
            ),
            new VisitPart(start.Starts, start.SinceLastEndMs, start.HushLeftMs, start.DialogHushLeftMs),
            [.. plan.Armed.Select(a => WriteCue.Of(a, onStage: stage is not null))],
            WriteCue.Words(plan.Armed),
            files.Draw,
            plan.Armed.Any(WriteCue.NeedsShapes) || MayStack(rules, plan) ? files.Shapes : null,
            files.Listen,
            EndsOf(plan),
            counted && site.AskedPlaces.Count > 0 ? site.AskedPlaces : null,
            site.Forms.Count == 0 ? [] : [.. site.Forms.Where(f => f.Pages.Decide(page).Shown).Select(FormOf)],
            site.Scripts.Count == 0
                ? []
                :
                [
                    .. site
                        .Scripts.Where(s => s.EventKind == EventKind.BasketAddition)
                        .Select(s => new BasketPart(s.Script!.BasketSelector, s.Script.ProductSelector)),
                ],
            mark,
            stage
        )
        {
            Ask = asks ? new AskOfferPart(files.Ask, site.Key, stage is null ? null : true, site.Region) : null,
        };
    }

    /// <summary>Whether two cards may be on screen together: they then stand behind one another.</summary>
    private static bool MayStack(HouseRules rules, Plan plan) => rules.MostAtOnce > 1 && plan.Armed.Count > 1;

    private static Dictionary<Guid, long>? EndsOf(Plan plan)
    {
        Dictionary<Guid, long>? ends = null;
        foreach (var armed in plan.Armed)
            if (armed.Over is { } over)
                (ends ??= [])[armed.Callout.Id] = over.AtMs;
        return ends;
    }

    private static FormPart FormOf(LiveForm form) =>
        form.Mapping.Success switch
        {
            { Sign: SuccessSign.Page } page => FormPartOf(form) with
            {
                Page = PagePattern.TryParse(page.Target, out _)?.ToPathExpression(),
            },
            { Sign: SuccessSign.Element } element => FormPartOf(form) with { Element = element.Target },
            _ => FormPartOf(form),
        };

    private static FormPart FormPartOf(LiveForm form) => new(form.SourceId, form.Mapping.Form, form.Mapping.Wanted);

    private static MarkPart MarkOf(LiveSite site, Plan plan, string desk, string script)
    {
        var shown = plan.Armed.Select(a => $"\"{a.Callout.Name}\" is {a.DueWords}.");
        var silent = plan.LeftOut.Select(l =>
            $"\"{l.Callout.Name}\" will not show. {ReasonSentence.Say(l.Reason, site.Zone, _ => null)}"
        );
        var lines = shown.Concat(silent).Take(6).ToList();
        if (lines.Count == 0)
            lines.Add("No callout is live yet.");
        // A sample is the real words of a real event, and says so; without one the mark says what is missing.
        var sample = plan.Armed.SelectMany(a => a.Turns).FirstOrDefault();
        if (sample is not null)
            lines.Insert(0, $"As a visitor would read it: {string.Concat(sample.Spans.Select(s => s.Text))}");
        var pages = $"{desk}/s/{site.Key}";
        var next =
            site.Sources.Count == 0 ? new NextPart("Next: choose what to listen to", $"{pages}/ledger?panel=add")
            : site.Callouts.Count == 0 ? new NextPart("Next: make a first callout", $"{pages}/callouts")
            : new NextPart("See the run sheet", $"{pages}/");
        return new MarkPart(
            script,
            $"{site.Name} is connected. Only you see this; your visits are not counted.",
            lines,
            next
        );
    }
}
