using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Pages;
using Outcry.Core.Visitors;

namespace Outcry.Core.Planning;

/// <summary>Decides, for one page view, which callouts may show and why the others may not.</summary>
public static class Planner
{
    /// <summary>Makes the plan of a page view.</summary>
    /// <param name="site">The site.</param>
    /// <param name="page">The page.</param>
    /// <param name="visitor">The visitor, this page view already counted.</param>
    /// <param name="now">The page view's start.</param>
    /// <param name="options">How much to say, and what to lift.</param>
    public static Plan MakePlan(
        SiteSnapshot site,
        PageAddress page,
        VisitorRecord visitor,
        Instant now,
        PlanOptions options
    )
    {
        var armed = new List<ArmedCallout>();
        var leftOut = options.Explain ? new List<LeftOut>() : null;
        var reader = site.ReaderOf(visitor.VisitorId);
        var silence = SilenceOver(site, page);

        foreach (var place in silence is null || options.Explain ? site.OnPage(page) : [])
        {
            var callout = site.Callouts[place];
            var (turns, reason) = Consider(callout, site.Evidence[place], visitor, reader, now, silence, options);
            if (reason is null)
                armed.Add(new ArmedCallout(callout, turns));
            else
                leftOut?.Add(new LeftOut(callout, reason));
        }
        if (leftOut is not null)
            AddOffPage(site, page, armed, leftOut);
        return new Plan(armed, leftOut ?? []);
    }

    private static Reason? SilenceOver(SiteSnapshot site, PageAddress page)
    {
        if (site.OffAir)
            return new SiteOffAir();
        foreach (var quiet in site.QuietPages)
            if (quiet.Matches(page))
                return new QuietPage(quiet.Text);
        return null;
    }

    // The order of checks is the order in which a person would ask; the first that fails is the reason.
    private static (IReadOnlyList<PreparedTurn> Turns, Reason? Reason) Consider(
        Callout callout,
        PreparedEvidence evidence,
        VisitorRecord visitor,
        Reader reader,
        Instant now,
        Reason? silence,
        PlanOptions options
    )
    {
        if (silence is SiteOffAir)
            return ([], silence);
        if (callout.State != CalloutState.Live)
            return ([], new NotLive(callout.State));
        if (silence is not null)
            return ([], silence);
        if (!options.LiftLimits)
        {
            if (visitor.HushUntil is { } hush && hush > now)
                return ([], new Hushed(hush));
            if (callout.Class == CalloutClass.Dialog && visitor.DialogHushUntil is { } dialogHush && dialogHush > now)
                return ([], new Hushed(dialogHush));
            if (
                callout.Repeat.Refuses(visitor.Exposures.GetValueOrDefault(callout.Id), visitor.Visit, now) is { } limit
            )
                return ([], new SeenOften(limit));
        }
        return TurnPicker.Pick(
            callout,
            evidence,
            visitor,
            reader,
            options.LiftLimits ? 1 : callout.Evidence.LeastNumber
        );
    }

    private static void AddOffPage(SiteSnapshot site, PageAddress page, List<ArmedCallout> armed, List<LeftOut> leftOut)
    {
        var named = armed.Select(a => a.Callout.Id).Concat(leftOut.Select(l => l.Callout.Id)).ToHashSet();
        foreach (var callout in site.Callouts)
        {
            if (!named.Contains(callout.Id))
                leftOut.Add(new LeftOut(callout, OffPageReason(site, callout, page)));
        }
    }

    private static Reason OffPageReason(SiteSnapshot site, Callout callout, PageAddress page)
    {
        if (site.OffAir)
            return new SiteOffAir();
        if (callout.State != CalloutState.Live)
            return new NotLive(callout.State);
        var verdict = callout.Pages.Decide(page);
        return verdict.Decider is { } exclude
            ? new PageExcluded(exclude.Text)
            : new PageNotIncluded(callout.Pages.Includes.Count);
    }
}
