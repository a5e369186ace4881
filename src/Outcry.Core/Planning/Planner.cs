using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Planning;

/// <summary>Decides, for one page view, which callouts may show and why the others may not.</summary>
public static class Planner
{
    /// <summary>Makes the plan of a page view.</summary>
    /// <param name="site">The site.</param>
    /// <param name="page">The page.</param>
    /// <param name="visitor">The visitor, this page view already counted.</param>
    /// <param name="facts">What this page view adds to what is known of the visitor.</param>
    /// <param name="now">The page view's start.</param>
    /// <param name="options">How much to say, and what to lift.</param>
    public static Plan MakePlan(
        SiteSnapshot site,
        PageAddress page,
        VisitorRecord visitor,
        VisitorFacts facts,
        Instant now,
        PlanOptions options
    )
    {
        var silence = SilenceOver(site, page);
        var plan =
            silence is null || options.Explain
                ? MakePlan(site, page, site.OnPage(page), silence, visitor, facts, now, options)
                : new Plan([], []);
        return options is { Explain: true, OnPageOnly: false }
            ? plan with
            {
                LeftOut = [.. plan.LeftOut, .. OffPage(site, page, now, plan)],
            }
            : plan;
    }

    /// <summary>Makes the plan of a page view from those of its callouts that are found already to be on the page.</summary>
    internal static Plan MakePlan(
        SiteSnapshot site,
        PageAddress page,
        IReadOnlyList<int> onPage,
        Reason? silence,
        VisitorRecord visitor,
        VisitorFacts facts,
        Instant now,
        PlanOptions options
    )
    {
        var view = new View(
            site,
            page,
            new FactReader(visitor, facts, options.Deeds ?? site.DeedsOf(visitor.VisitorId), now),
            site.ReaderOf(visitor.VisitorId),
            silence,
            options
        );
        var armed = new List<ArmedCallout>();
        List<LeftOut>? leftOut = options.Explain || options.Watched is not null ? [] : null;
        for (var i = 0; i < onPage.Count; i++)
        {
            var place = onPage[i];
            var callout = site.Callouts[place];
            var (candidate, reason) = Contained(callout, site.Evidence[place], view);
            if (candidate is not null)
                armed.Add(candidate);
            else if (options.Explains(callout))
                leftOut!.Add(new LeftOut(callout, reason!));
        }
        if (site.HasReplacing)
            Replacement.Settle(page, armed, leftOut);
        return new Plan(armed, leftOut ?? []);
    }

    internal static Reason? SilenceOver(SiteSnapshot site, PageAddress page)
    {
        if (site.OffAir)
            return new SiteOffAir();
        foreach (var quiet in site.QuietPages)
            if (quiet.Matches(page))
                return new QuietPage(quiet.Text);
        return null;
    }

    // A wording that fails silences its own callout, on this page view and to this visitor, and no other.
    private static (ArmedCallout? Armed, Reason? Reason) Contained(
        Callout callout,
        PreparedEvidence evidence,
        View view
    )
    {
        try
        {
            return Consider(callout, evidence, view);
        }
        catch (WordingException failed)
        {
            return (null, new WordingFailed(failed.Message));
        }
    }

    // The order of checks is the order in which a person would ask; the first that fails is the reason.
    private static (ArmedCallout? Armed, Reason? Reason) Consider(Callout callout, PreparedEvidence evidence, View view)
    {
        if (ForEverybody(callout, view) is { } common)
            return (null, common);
        if (ForThisVisitor(callout, view) is { } personal)
            return (null, personal);
        var restraint = view.Options.LiftLimits ? null : Restraint(callout, view);
        if (restraint is not null && !callout.Askable)
            return (null, restraint);
        var (turns, missing) = TurnPicker.Pick(evidence, view.Visitor, view.Reader, view.Page, view.Options);
        if (missing is not null)
            return (null, restraint ?? missing);
        var triggers = callout.Triggers;
        if (callout.WaitsForPages && PagesMet(callout, view.Visitor.Record, out triggers) is { } waits)
            return (null, new NeverDue(waits));
        var over = PlanEnd.Of(callout.Brief.When.Schedule, view.Visitor.Now, view.Site.Zone);
        return (new ArmedCallout(callout, turns, triggers, restraint) { Over = over }, null);
    }

    private static Reason? ForEverybody(Callout callout, View view)
    {
        if (view.Silence is SiteOffAir)
            return view.Silence;
        if (callout.State != DefinitionState.Live)
            return new NotLive(callout.State);
        if (callout.Brief.When.Schedule.Refuses(view.Visitor.Now, view.Site.Zone) is { } limit)
            return new OutsideSchedule(limit);
        return view.Silence;
    }

    private static Reason? ForThisVisitor(Callout callout, View view)
    {
        if (callout.Brief.Who.HiddenOn.Count > 0 && callout.Brief.Who.HiddenOn.Contains(view.Visitor.Facts.Device))
            return new DeviceLeftOut(view.Visitor.Facts.Device);
        if (!callout.Who.Holds(view.Visitor))
            return view.Options.Explains(callout)
                ? new VisitorDiffers(callout.Who.Explain(view.Visitor)!)
                : Unexplained;
        if (view.Site.Rules.NeedsConsent && !view.Visitor.Facts.Agreed)
            return new NoConsent();
        return callout.Brief.When.OnlyIfAvailable && !view.Site.IsTeamThere ? new NobodyAvailable() : null;
    }

    // What a click of the visitor's own sets aside.
    private static Reason? Restraint(Callout callout, View view)
    {
        var (visitor, now) = (view.Visitor.Record, view.Visitor.Now);
        if (visitor.HushUntil is { } hush && hush > now)
            return new Hushed(hush);
        if (callout.Class == CalloutClass.Dialog && visitor.DialogHushUntil is { } dialogHush && dialogHush > now)
            return new Hushed(dialogHush);
        var often = callout.Brief.HowOften;
        var met = visitor.Exposures.GetValueOrDefault(callout.Id);
        var limit = callout.Repeat.Refuses(met, visitor.Visit, now);
        // Of two gaps the later one decides, and the reason names it.
        if (
            met?.LastCloseAt is { } closed
            && Pending(often.AfterClose, closed, now, out var until)
            && !IsLater(limit, until)
        )
            return new ClosedBefore(until);
        if (
            often.Goals.Count > 0
            && view.Visitor.LastDid(often.Goals) is { } succeeded
            && Pending(often.AfterSuccess, succeeded, now, out var away)
            && !IsLater(limit, away)
        )
            return new Succeeded(succeeded, away);
        if (limit is not null)
            return new SeenOften(limit);
        return !view.Options.AsShare && Holdback.Holds(visitor.VisitorId, callout.Id, callout.Brief.HoldbackPercent)
            ? new HeldBack(callout.Brief.HoldbackPercent)
            : null;
    }

    // What never comes again is not promised back for the end of a gap.
    private static bool IsLater(RepeatLimit? limit, Instant? until) =>
        limit is { NextAt: { } next } ? next > until : limit is { IsForGood: true } && until is not null;

    private static bool Pending(Pause pause, Instant since, Instant now, out Instant? until)
    {
        until = pause.Over(since);
        return until is null || until > now;
    }

    // Pages looked at are known before the page view begins; what is left to wait for happens on the page.
    private static Trigger? PagesMet(Callout callout, VisitorRecord visitor, out IReadOnlyList<Trigger> left)
    {
        bool IsMet(Trigger t) => t.Kind == TriggerKind.Pages && visitor.Visit.Pages >= t.Number;
        left = [.. callout.Triggers.Where(t => t.Kind != TriggerKind.Pages)];
        if (callout.Brief.When.Join == Join.All)
            return callout.Triggers.FirstOrDefault(t => t.Kind == TriggerKind.Pages && !IsMet(t));
        if (callout.Triggers.Any(IsMet))
            left = [];
        else if (left.Count == 0)
            return callout.Triggers[0];
        return null;
    }

    // Live traffic is not told why, so nothing is worked out for it.
    private static readonly Reason Unexplained = new NotLive(DefinitionState.Live);

    private static IEnumerable<LeftOut> OffPage(SiteSnapshot site, PageAddress page, Instant now, Plan plan)
    {
        var named = plan.Armed.Select(a => a.Callout.Id).Concat(plan.LeftOut.Select(l => l.Callout.Id)).ToHashSet();
        return site
            .Callouts.Where(c => !named.Contains(c.Id))
            .Select(c => new LeftOut(c, OffPageReason(site, c, page, now)));
    }

    private static Reason OffPageReason(SiteSnapshot site, Callout callout, PageAddress page, Instant now)
    {
        if (site.OffAir)
            return new SiteOffAir();
        if (callout.State != DefinitionState.Live)
            return new NotLive(callout.State);
        if (callout.Brief.When.Schedule.Refuses(now, site.Zone) is { } limit)
            return new OutsideSchedule(limit);
        var verdict = callout.Pages.Decide(page);
        return verdict.Decider is { } exclude
            ? new PageExcluded(exclude.Text)
            : new PageNotIncluded(callout.Pages.Includes);
    }

    private sealed record View(
        SiteSnapshot Site,
        PageAddress Page,
        FactReader Visitor,
        Reader Reader,
        Reason? Silence,
        PlanOptions Options
    );
}
