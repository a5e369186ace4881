using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Briefs;
using Outcry.Core.Claims;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Performing;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
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
        // A launcher stands on quiet pages too: it is only there, and says nothing.
        var plan =
            silence is null || options.Explain || (site.Conditions.Launchers.Count > 0 && silence is not SiteOffAir)
                ? MakePlan(site, page, site.OnPage(page), silence, visitor, facts, now, options)
                : new Plan([], []);
        return options is { Explain: true, OnPageOnly: false }
            ? plan with
            {
                LeftOut = [.. plan.LeftOut, .. OffPage(site, page, now, plan, options.OnStage)],
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
        var reader = new FactReader(visitor, facts, options.PastEvents ?? site.PastEventsOf(visitor.VisitorId), now);
        var eligibility = new EligibilityView(reader, silence, site.Rules, site.Zone, site.IsTeamThere(null))
        {
            LiftLimits = options.LiftLimits,
            AsShare = options.AsShare,
        };
        var view = new View(site, page, site.ReaderOf(visitor.VisitorId), eligibility, options);
        var armed = new List<ArmedCallout>();
        List<LeftOut>? leftOut = options.Explain || options.Watched is not null ? [] : null;
        var stands = Standing.Find(view);
        // Whoever is greeted on this page would talk to those who answer at its launcher.
        if (stands.Launcher is { Brief.GroupId: not null } theirs)
            view = view with { Eligibility = eligibility with { IsTeamThere = site.IsTeamThere(theirs) } };
        var ladder = new Ladder(view, stands.Launcher);
        for (var i = 0; i < onPage.Count; i++)
        {
            var place = onPage[i];
            var callout = site.Callouts[place];
            // Rungs come in the order of their ladder, so it is climbed on the way.
            var (candidate, reason) = callout.Greets is { } at
                ? ladder.Try(callout, at, site.Evidence[place])
                : Contained(callout, site.Evidence[place], view).Plain;
            if (candidate is not null)
                armed.Add(candidate);
            else if (options.Explains(callout))
                leftOut!.Add(new LeftOut(callout, reason!));
        }
        if (options is { Explain: true, OnPageOnly: false })
            ladder.ExplainRest(leftOut!, stands.Away, now);
        if (site.HasReplacing)
            Replacement.Settle(page, armed, leftOut);
        return new Plan(armed, leftOut ?? [])
        {
            Stands = stands.Launcher,
            Away = stands.Away,
            SetAside = options.OnStage
                ? [.. armed.SelectMany(a => SetAside(a.Callout.Targeting, eligibility)).Distinct()]
                : [],
        };
    }

    private static IEnumerable<Reason> SetAside(CompiledTargeting target, EligibilityView view)
    {
        foreach (var reason in Eligibility.InTheWay(target, view))
            yield return reason;
        if (target.WaitsForPages && Eligibility.PagesMet(target, view.Visitor.Record, out _) is { } waits)
            yield return new NeverDue(waits);
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
    internal static Considered Contained(Callout callout, PreparedEvidence evidence, View view)
    {
        try
        {
            return Consider(callout, evidence, view);
        }
        catch (WordingException failed)
        {
            return new Considered(null, new WordingFailed(failed.Message));
        }
    }

    private static Considered Consider(Callout callout, PreparedEvidence evidence, View view)
    {
        var onStage = view.Options.OnStage;
        var verdict = onStage
            ? Eligibility.DecideOnStage(view.Eligibility)
            : Eligibility.Decide(callout.Targeting, view.Eligibility, view.Options.Explains(callout));
        if (verdict.Refusal is { } refusal)
            return new Considered(null, refusal) { IsPassedOver = !verdict.IsRestraint };
        var answered = onStage || view.Options.LiftLimits ? null : WhyNotAsked(callout, view);
        // Whoever presses the page's own button for it is answered all the same.
        if (answered is NoCodesLeft || (answered is not null && !callout.Targeting.IsAskable))
            return new Considered(null, answered);
        var (turns, missing) = TurnPicker.Pick(evidence, view.Visitor, view.Reader, view.Page, view.Options.Turns);
        if (missing is not null)
            return new Considered(null, verdict.UnlessAsked ?? missing);
        var triggers = callout.Targeting.Triggers;
        if (
            !onStage
            && callout.Targeting.WaitsForPages
            && Eligibility.PagesMet(callout.Targeting, view.Visitor.Record, out triggers) is { } waits
        )
            return new Considered(null, new NeverDue(waits));
        var over = ScheduleEnd.Of(callout.Brief.When.Schedule, view.Visitor.Now, view.Site.Zone);
        var opens = callout.Greets is { OpensPanel: true } && view.Visitor.Facts.Device != Device.Phone;
        return new Considered(
            new ArmedCallout(callout, turns, triggers, verdict.UnlessAsked ?? answered)
            {
                Over = over,
                OpensPanel = opens,
            },
            null
        );
    }

    private static IEnumerable<LeftOut> OffPage(
        SiteSnapshot site,
        PageAddress page,
        Instant now,
        Plan plan,
        bool onStage
    )
    {
        var named = plan.Armed.Select(a => a.Callout.Id).Concat(plan.LeftOut.Select(l => l.Callout.Id)).ToHashSet();
        return site
            .Callouts.Where(c => !named.Contains(c.Id))
            .Select(c => new LeftOut(
                c,
                onStage ? Eligibility.NotForPage(c.Targeting, page)
                    : site.OffAir ? new SiteOffAir()
                    : Eligibility.OffPage(c.Targeting, page, now, site.Zone)
            ));
    }

    // Nobody is asked twice, and nothing is offered that cannot be given.
    private static Reason? WhyNotAsked(Callout callout, View view)
    {
        if (callout.Brief.Ask is not { } ask)
            return null;
        var before = view.Site.Conditions.AskedBefore(view.Visitor.Record.VisitorId);
        if (ask.TakesContact && before.HasGiven)
            return new AlreadyGave();
        if (ask.TakesContact && before.TookBackPromiseOf(ask))
            return new TookPromiseBack();
        return
            ask.Reward is { Kind: RewardKind.Pool, AwayWhenEmpty: true, SourceId: { } pool }
            && view.Site.Conditions.IsPoolEmpty(pool)
            ? new NoCodesLeft()
            : null;
    }

    /// <summary>What a plan is made for.</summary>
    internal sealed record View(
        SiteSnapshot Site,
        PageAddress Page,
        ReaderIdentity Reader,
        EligibilityView Eligibility,
        PlanOptions Options
    )
    {
        public FactReader Visitor => Eligibility.Visitor;
    }

    /// <summary>What came of asking for one callout.</summary>
    /// <param name="Armed">It on the plan; null when it is not.</param>
    /// <param name="Reason">Why not.</param>
    internal readonly record struct Considered(ArmedCallout? Armed, Reason? Reason)
    {
        /// <summary>Whether it is not for this page or this visitor at all.</summary>
        public bool IsPassedOver { get; init; }

        public (ArmedCallout? Armed, Reason? Reason) Plain => (Armed, Reason);
    }
}
