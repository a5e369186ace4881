using NodaTime;
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
        var plan =
            silence is null || options.Explain
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
        var eligibility = new EligibilityView(reader, silence, site.Rules, site.Zone, site.IsTeamThere)
        {
            LiftLimits = options.LiftLimits,
            AsShare = options.AsShare,
        };
        var view = new View(site, page, site.ReaderOf(visitor.VisitorId), eligibility, options);
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
        return new Plan(armed, leftOut ?? [])
        {
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

    private static (ArmedCallout? Armed, Reason? Reason) Consider(Callout callout, PreparedEvidence evidence, View view)
    {
        var onStage = view.Options.OnStage;
        var verdict = onStage
            ? Eligibility.DecideOnStage(view.Eligibility)
            : Eligibility.Decide(callout.Targeting, view.Eligibility, view.Options.Explains(callout));
        if (verdict.Refusal is { } refusal)
            return (null, refusal);
        var (turns, missing) = TurnPicker.Pick(evidence, view.Visitor, view.Reader, view.Page, view.Options.Turns);
        if (missing is not null)
            return (null, verdict.UnlessAsked ?? missing);
        var triggers = callout.Targeting.Triggers;
        if (
            !onStage
            && callout.Targeting.WaitsForPages
            && Eligibility.PagesMet(callout.Targeting, view.Visitor.Record, out triggers) is { } waits
        )
            return (null, new NeverDue(waits));
        var over = ScheduleEnd.Of(callout.Brief.When.Schedule, view.Visitor.Now, view.Site.Zone);
        return (new ArmedCallout(callout, turns, triggers, verdict.UnlessAsked) { Over = over }, null);
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

    private sealed record View(
        SiteSnapshot Site,
        PageAddress Page,
        ReaderIdentity Reader,
        EligibilityView Eligibility,
        PlanOptions Options
    )
    {
        public FactReader Visitor => Eligibility.Visitor;
    }
}
