using NodaTime;
using Outcry.Core.Explaining;
using Outcry.Core.Greetings;
using Outcry.Core.Targeting;

namespace Outcry.Core.Planning;

/// <summary>Finds the one launcher that stands on a page.</summary>
internal static class Standing
{
    /// <summary>The launcher that stands, and where asked for all others with their reason.</summary>
    /// <remarks>
    /// Of those whose page and visitor hold: the lowest priority number, then the most particular pattern, then the older. A
    /// closed one that hides is still the one, so that none stands: another that stood in for it would be open elsewhere.
    /// </remarks>
    public static (Launcher? Launcher, IReadOnlyList<LauncherAway> Away) Find(Planner.View view)
    {
        var launchers = view.Site.Conditions.Launchers;
        if (launchers.Count == 0)
            return (null, []);
        List<LauncherAway>? away = view.Options.Explain ? [] : null;
        Launcher? best = null;
        List<Launcher>? beaten = null;
        foreach (var launcher in launchers)
            if (Refusal(launcher, view) is { } refusal)
                away?.Add(new LauncherAway(launcher, refusal));
            else if (best is null || GoesBefore(launcher, best, view))
            {
                if (best is not null)
                    (beaten ??= []).Add(best);
                best = launcher;
            }
            else
                (beaten ??= []).Add(launcher);
        foreach (var other in beaten ?? [])
            away?.Add(new LauncherAway(other, new OtherLauncher(best!.Id)));
        if (best is not { Brief.Closed.Hides: true })
            return (best, away ?? []);
        var available = best.At(view.Visitor.Now, view.Site.Conditions.Team);
        if (available.IsOpen)
            return (best, away ?? []);
        away?.Add(new LauncherAway(best, new ClosedForNow(available.OpensAt)));
        return (null, away ?? []);
    }

    private static Reason? Refusal(Launcher launcher, Planner.View view) =>
        Eligibility.WhyNotStanding(launcher.Targeting, view.Eligibility) is { } refusal ? refusal
        : launcher.Targeting.Pages.Decide(view.Page).Shown ? null
        : Eligibility.NotForPage(launcher.Targeting, view.Page);

    private static bool GoesBefore(Launcher one, Launcher other, Planner.View view) =>
        RankOf(one, view).CompareTo(RankOf(other, view)) < 0;

    private static (int Priority, int Reach, Instant Made, Guid Id) RankOf(Launcher launcher, Planner.View view) =>
        (
            launcher.Brief.Priority,
            launcher.Targeting.Pages.ReachOn(view.Page) is { } reach ? (int)reach : int.MaxValue,
            launcher.Definition.CreatedAt,
            launcher.Id
        );
}
