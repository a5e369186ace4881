using NodaTime;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Publishing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Rehearsing;

/// <summary>A reason for which a callout stays silent, and where.</summary>
/// <param name="Reason">The reason, as it stood on the first page on which it was met.</param>
/// <param name="Page">That page.</param>
/// <param name="Who">For which visitor.</param>
/// <param name="Share">The share of the page views looked at for which it is the reason, 0 to 1.</param>
public sealed record SilentFor(Reason Reason, PageAddress Page, ImaginedVisitor Who, double Share);

/// <summary>What there is to say of a callout that nobody seems to meet.</summary>
/// <param name="ShownShare">The share of the page views looked at on which it does come on, 0 to 1.</param>
/// <param name="Reasons">Why not on the rest, the likeliest to be wondered at first.</param>
public sealed record SilenceFindings(double ShownShare, IReadOnlyList<SilentFor> Reasons);

/// <summary>Answers "why is nothing showing?" by rehearsing the visitors whom a callout should meet.</summary>
public static class Silence
{
    private static readonly (ImaginedVisitor Who, double Weight)[] Usual =
    [
        (ImaginedVisitor.Newcomer, 0.4),
        (ImaginedVisitor.Newcomer with { Device = Device.Phone }, 0.3),
        (new ImaginedVisitor { VisitNumber = 2 }, 0.2),
        (new ImaginedVisitor { VisitNumber = 2, MetEverything = true }, 0.1),
    ];

    /// <summary>Rehearses some visitors on some pages.</summary>
    /// <param name="site">The site.</param>
    /// <param name="callout">The callout, which the site need not know.</param>
    /// <param name="pages">Pages with their views; at least one.</param>
    /// <param name="reading">How they are read.</param>
    /// <param name="now">When.</param>
    public static SilenceFindings Ask(
        SiteSnapshot site,
        Guid callout,
        IReadOnlyList<(PageAddress Page, double Views)> pages,
        Reading reading,
        Instant now
    )
    {
        var all = pages.Sum(p => Math.Max(p.Views, 0.001));
        var shown = 0.0;
        var reasons = new Dictionary<string, SilentFor>();
        foreach (var (page, views) in pages)
        foreach (var (who, weight) in Usual)
        {
            var share = weight * Math.Max(views, 0.001) / all;
            if (FateOf(reading.Play(site, page, who, now), callout) is not { } reason)
            {
                shown += share;
                continue;
            }
            var gist = ReasonCatalogue.GistOf(reason);
            reasons[gist] = reasons.TryGetValue(gist, out var known)
                ? known with
                {
                    Share = known.Share + share,
                }
                : new SilentFor(reason, page, who, share);
        }
        return new SilenceFindings(
            Math.Round(shown, 4),
            [
                .. reasons
                    .Values.Select(r => r with { Share = Math.Round(r.Share, 4) })
                    .OrderBy(r => ReasonCatalogue.RankOf(r.Reason))
                    .ThenByDescending(r => r.Share),
            ]
        );
    }

    // A callout the site does not know is not live.
    private static Reason? FateOf(ReadPage read, Guid callout)
    {
        if (read.Showings.Any(s => s.Callout == callout))
            return null;
        return read.Read.Outcome.Missed.FirstOrDefault(m => m.Callout == callout)?.Reason
            ?? read.Read.LeftOut.FirstOrDefault(l => l.Callout.Id == callout)?.Reason
            ?? new NotLive(DefinitionState.Paused);
    }
}
