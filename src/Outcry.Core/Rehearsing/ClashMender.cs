using Outcry.Core.Briefs;
using Outcry.Core.Explaining;
using Outcry.Core.Performing;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;

namespace Outcry.Core.Rehearsing;

/// <summary>A change that would end a clash.</summary>
/// <param name="Callout">The callout to be changed.</param>
/// <param name="Change">The change.</param>
/// <param name="Changes">What would become of callouts on the page that fare differently then.</param>
public sealed record Mend(Guid Callout, BriefChange Change, IReadOnlyList<Difference> Changes);

/// <summary>Looks for changes that end a clash, each played before it is offered.</summary>
/// <param name="site">The site as it is.</param>
/// <param name="shared">What its callouts share.</param>
/// <param name="play">Plays the page on a site.</param>
public sealed class ClashMender(SiteSnapshot site, SiteContext shared, Func<SiteSnapshot, ReadPage> play)
{
    private readonly ReadPage _asItIs = play(site);

    /// <summary>Changes that would end the clash, those that cost the others least first.</summary>
    /// <param name="clash">The callout that does not come on, and why.</param>
    /// <param name="here">Patterns that mean the page or its group, for leaving a callout out there.</param>
    public IReadOnlyList<Mend> Mends(Missed clash, IReadOnlyList<string> here)
    {
        if (clash.Reason is not NoFreeSlot slot)
            return [];
        var late = Find(clash.Callout);
        var first = slot.Blocker is { } id ? Find(id) : null;
        var tried = new List<(Callout? Callout, BriefChange Change)>();
        if (late is not null && slot.NextFreeMs is { } free && BriefChange.WaitOf(late.Brief) is not null)
            tried.Add((late, new WaitFor((int)Math.Min(3_600, (free + 999) / 1000))));
        if (first is not null && late?.Brief.Priority >= first.Brief.Priority && first.Brief.Priority > 1)
            tried.Add((late, new GoAt(first.Brief.Priority - 1)));
        else if (first is not null && late?.Brief.Priority >= first.Brief.Priority && first.Brief.Priority < 9)
            tried.Add((first, new GoAt(late.Brief.Priority + 1)));
        if (here.Count > 0)
        {
            tried.Add((first, new ExcludePages(here)));
            tried.Add((late, new ExcludePages(here)));
        }
        return
        [
            .. tried
                .Where(t => t.Callout is not null)
                .Select(t => Try(t.Callout!, t.Change))
                .Where(m => Ends(m, clash.Callout))
                .OrderBy(m => m.Changes.Count(c => c.Before.StartMs is not null && c.After.StartMs is null)),
        ];
    }

    /// <summary>What a change would make of the page.</summary>
    /// <exception cref="FormatException">The brief with the change is not valid.</exception>
    public Mend Try(Callout callout, BriefChange change) =>
        new(callout.Id, change, Difference.Between(_asItIs, play(With(site, shared, callout, change))));

    /// <summary>The site with one callout changed.</summary>
    /// <exception cref="FormatException">The brief with the change is not valid.</exception>
    public static SiteSnapshot With(SiteSnapshot site, SiteContext shared, Callout callout, BriefChange change) =>
        site.Replacing(new Callout(callout.Targeting.Definition, change.Apply(callout.Brief), shared));

    // Left out on purpose it no longer waits for anything, which ends the clash too.
    private static bool Ends(Mend mend, Guid clashing) =>
        mend.Callout == clashing && mend.Change is ExcludePages
        || mend.Changes.Any(c => c.Callout == clashing && c.After.StartMs is not null);

    // A greeting is changed where its ladder is, which a change of one callout does not know.
    private Callout? Find(Guid id) => site.Callouts.FirstOrDefault(c => c.Id == id && c.Greets is null);
}
