using Outcry.Core.Briefs;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Targeting;

namespace Outcry.Core.Planning;

/// <summary>Lets callouts that are particular to a page take the place of wider ones of their kind.</summary>
/// <remarks>Only one that may itself show replaces another: a page's own without evidence does not silence the site's.</remarks>
internal static class Replacement
{
    public static void Settle(PageAddress page, List<ArmedCallout> armed, List<LeftOut>? leftOut)
    {
        List<(ArmedCallout Armed, int Reach)>? replacing = null;
        foreach (var candidate in armed)
            if (candidate.Callout.Brief.Where.Replaces)
                (replacing ??= []).Add((candidate, ReachOf(candidate.Callout, page)));
        if (replacing is null)
            return;
        armed.RemoveAll(candidate =>
        {
            if (ReplacerOf(candidate.Callout, page, replacing) is not { } by)
                return false;
            leftOut?.Add(new LeftOut(candidate.Callout, new Replaced(by.Callout.Id)));
            return true;
        });
        for (var i = 0; i < leftOut?.Count; i++)
            // Whatever else it lacks is asked for only after this.
            if (leftOut[i].Reason is IEvidenceReason && ReplacerOf(leftOut[i].Callout, page, replacing) is { } by)
                leftOut[i] = new LeftOut(leftOut[i].Callout, new Replaced(by.Callout.Id));
    }

    // Narrower wins; the replacers are in order of rank, so of several the first is named.
    private static ArmedCallout? ReplacerOf(
        Callout candidate,
        PageAddress page,
        List<(ArmedCallout Armed, int Reach)> replacing
    )
    {
        var reach = ReachOf(candidate, page);
        foreach (var (by, narrow) in replacing)
            if (narrow < reach && IsOfItsRole(by.Callout, candidate))
                return by;
        return null;
    }

    // A greeting takes the place of any notification that lies over the page, and of no greeting: its ladder did that already.
    private static bool IsOfItsRole(Callout by, Callout candidate) =>
        by.Greets is null
            ? candidate.Greets is null && by.Brief.Kind == candidate.Brief.Kind
            : candidate.Greets is null && candidate.Class == CalloutClass.Floating;

    // Exact, one level, any depth, and widest of all everywhere.
    private static int ReachOf(Callout candidate, PageAddress page) =>
        candidate.Targeting.Pages.ReachOn(page) is { } reach ? (int)reach : int.MaxValue;
}
