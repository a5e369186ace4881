using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Targeting;

/// <summary>For whom and under what it is asked whether something may be shown.</summary>
/// <param name="Visitor">Who looks, and when.</param>
/// <param name="Silence">What silences the page or the whole site; null for nothing.</param>
/// <param name="Rules">The house rules.</param>
/// <param name="Zone">The site's time zone.</param>
/// <param name="IsTeamThere">Whether somebody of the team is there.</param>
public sealed record EligibilityView(
    FactReader Visitor,
    Reason? Silence,
    HouseRules Rules,
    DateTimeZone Zone,
    bool IsTeamThere
)
{
    /// <summary>Whether hush and how often are lifted, as on a trial visit.</summary>
    public bool LiftLimits { get; init; }

    /// <summary>Whether nobody is held back: what only a share of visitors is shown is told as shown to that share.</summary>
    public bool AsShare { get; init; }
}

/// <summary>Whether something may be shown to a visitor on a page.</summary>
/// <param name="Refusal">Why it may not; null when it may.</param>
/// <param name="UnlessAsked">What holds it back until the visitor asks for it by a click; null for nothing.</param>
public readonly record struct Verdict(Reason? Refusal, Reason? UnlessAsked)
{
    /// <summary>Whether it is for this page and this visitor, and only how often, a hush or a share held back refuses it.</summary>
    public bool IsRestraint { get; init; }
}

/// <summary>Decides who may be shown what, where, when and how often: for callouts, and for whatever else is shown.</summary>
public static class Eligibility
{
    // Live traffic is not told why, so nothing is worked out for it.
    private static readonly Reason Unexplained = new NotLive(DefinitionState.Live);

    /// <summary>Decides for something that is for the page already.</summary>
    /// <remarks>The order of checks is the order in which a person would ask; the first that fails is the reason.</remarks>
    /// <param name="target">What would be shown.</param>
    /// <param name="view">To whom and under what.</param>
    /// <param name="explain">Whether the reason will be read, so that it is worth finding out.</param>
    public static Verdict Decide(CompiledTargeting target, EligibilityView view, bool explain)
    {
        if ((ForEverybody(target, view) ?? ForThisVisitor(target, view, explain)) is { } refusal)
            return new Verdict(refusal, null);
        var restraint = view.LiftLimits ? null : Restraint(target, view);
        return target.IsAskable
            ? new Verdict(null, restraint)
            : new Verdict(restraint, null) { IsRestraint = restraint is not null };
    }

    /// <summary>Why something that stands on a page by itself, taking no turn, does not stand for this visitor; null when it does.</summary>
    /// <param name="target">What would stand, on a page that is one of its.</param>
    /// <param name="view">For whom.</param>
    public static Reason? WhyNotStanding(CompiledTargeting target, EligibilityView view) =>
        view.Silence is SiteOffAir ? view.Silence
        : target.Definition.State != DefinitionState.Live ? new NotLive(target.Definition.State)
        : target.Facets.Who.HiddenOn.Contains(view.Visitor.Facts.Device) ? new DeviceLeftOut(view.Visitor.Facts.Device)
        : target.Who.Holds(view.Visitor) ? null
        : new VisitorDiffers(target.Who.Explain(view.Visitor)!);

    /// <summary>Decides for a stage, where who, when and how often are set aside: a page that stays quiet is quiet there too.</summary>
    public static Verdict DecideOnStage(EligibilityView view) =>
        new(view.Silence is SiteOffAir ? null : view.Silence, null);

    /// <summary>Everything that would keep something from a visitor now, pages and how often left out.</summary>
    public static IEnumerable<Reason> InTheWay(CompiledTargeting target, EligibilityView view)
    {
        if (view.Silence is SiteOffAir)
            yield return view.Silence;
        if (target.Facets.When.Schedule.Refuses(view.Visitor.Now, view.Zone) is { } limit)
            yield return new OutsideSchedule(limit);
        if (target.Facets.Who.HiddenOn.Contains(view.Visitor.Facts.Device))
            yield return new DeviceLeftOut(view.Visitor.Facts.Device);
        if (!target.Who.Holds(view.Visitor))
            yield return new VisitorDiffers(target.Who.Explain(view.Visitor)!);
        if (view.Rules.NeedsConsent && !view.Visitor.Facts.Agreed)
            yield return new NoConsent();
        if (target.Facets.When.OnlyIfAvailable && !view.IsTeamThere)
            yield return new NobodyAvailable();
    }

    /// <summary>Why something is not for a page at all, or for no page now.</summary>
    public static Reason OffPage(CompiledTargeting target, PageAddress page, Instant now, DateTimeZone zone)
    {
        if (target.Definition.State != DefinitionState.Live)
            return new NotLive(target.Definition.State);
        if (target.Facets.When.Schedule.Refuses(now, zone) is { } limit)
            return new OutsideSchedule(limit);
        return NotForPage(target, page);
    }

    /// <summary>Which of its page rules leaves a page out.</summary>
    public static Reason NotForPage(CompiledTargeting target, PageAddress page)
    {
        var verdict = target.Pages.Decide(page);
        return verdict.Decider is { } exclude
            ? new PageExcluded(exclude.Text)
            : new PageNotIncluded(target.Pages.Includes);
    }

    /// <summary>What has still to happen on the page: pages looked at are known before the page view begins.</summary>
    /// <param name="target">What would be shown.</param>
    /// <param name="visitor">To whom, this page view already counted.</param>
    /// <param name="left">What is left to wait for; none for nothing.</param>
    /// <returns>The number of pages that it waits for in vain; null when the rest decides.</returns>
    public static Trigger? PagesMet(CompiledTargeting target, VisitorRecord visitor, out IReadOnlyList<Trigger> left)
    {
        bool IsMet(Trigger t) => t.Kind == TriggerKind.Pages && visitor.Visit.Pages >= t.Number;
        left = [.. target.Triggers.Where(t => t.Kind != TriggerKind.Pages)];
        if (target.Facets.When.Join == Join.All)
            return target.Triggers.FirstOrDefault(t => t.Kind == TriggerKind.Pages && !IsMet(t));
        if (target.Triggers.Any(IsMet))
            left = [];
        else if (left.Count == 0)
            return target.Triggers[0];
        return null;
    }

    private static Reason? ForEverybody(CompiledTargeting target, EligibilityView view)
    {
        if (view.Silence is SiteOffAir)
            return view.Silence;
        if (target.Definition.State != DefinitionState.Live)
            return new NotLive(target.Definition.State);
        if (target.Facets.When.Schedule.Refuses(view.Visitor.Now, view.Zone) is { } limit)
            return new OutsideSchedule(limit);
        return view.Silence;
    }

    private static Reason? ForThisVisitor(CompiledTargeting target, EligibilityView view, bool explain)
    {
        var hidden = target.Facets.Who.HiddenOn;
        if (hidden.Count > 0 && hidden.Contains(view.Visitor.Facts.Device))
            return new DeviceLeftOut(view.Visitor.Facts.Device);
        if (!target.Who.Holds(view.Visitor))
            return explain ? new VisitorDiffers(target.Who.Explain(view.Visitor)!) : Unexplained;
        if (view.Rules.NeedsConsent && !view.Visitor.Facts.Agreed)
            return new NoConsent();
        return target.Facets.When.OnlyIfAvailable && !view.IsTeamThere ? new NobodyAvailable() : null;
    }

    // What a click of the visitor's own sets aside.
    private static Reason? Restraint(CompiledTargeting target, EligibilityView view)
    {
        var (visitor, now) = (view.Visitor.Record, view.Visitor.Now);
        if (visitor.HushUntil is { } hush && hush > now)
            return new Hushed(hush);
        if (target.IsDialog && visitor.DialogHushUntil is { } dialogHush && dialogHush > now)
            return new Hushed(dialogHush);
        var often = target.Facets.HowOften;
        var id = target.Definition.Id;
        var met = visitor.Exposures.GetValueOrDefault(id);
        var limit = target.Repeat.Refuses(met, visitor.Visit, now);
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
        var percent = target.Facets.HoldbackPercent;
        return !view.AsShare && Holdback.Holds(visitor.VisitorId, id, percent) ? new HeldBack(percent) : null;
    }

    // What never comes again is not promised back for the end of a gap.
    private static bool IsLater(RepeatLimit? limit, Instant? until) =>
        limit is { NextAt: { } next } ? next > until : limit is { IsForGood: true } && until is not null;

    private static bool Pending(Pause pause, Instant since, Instant now, out Instant? until)
    {
        until = pause.Over(since);
        return until is null || until > now;
    }
}
