using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Rehearsing;
using Outcry.Server.Platform;
using Outcry.Server.RunSheet;
using Outcry.Server.Sites;
using Outcry.Store;

namespace Outcry.Server.Callouts;

/// <summary>A reason for which a callout is not showing, and where that can be changed.</summary>
/// <param name="Share">The share of page views it holds for, 0 to 1.</param>
/// <param name="Who">For whom, in words.</param>
internal sealed record WhyReasonView(string Sentence, ControlPlace Control, double Share, string Path, string Who);

/// <param name="ShownShare">The share of page views on its pages on which it does come on.</param>
/// <param name="Pages">How many known pages it is for.</param>
internal sealed record WhyView(double ShownShare, int Pages, IReadOnlyList<WhyReasonView> Reasons);

/// <summary>Answers "why is nothing showing?" by rehearsing new and returning visitors on the callout's busiest pages.</summary>
internal static class AskWhy
{
    private const int PagesPlayed = 6;

    public static async Task<Results<Ok<WhyView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid id,
        OutcryDb db,
        LiveSites sites,
        TrafficReader reader,
        IClock clock,
        CancellationToken stop
    )
    {
        if (await db.FindDefinitionAsync(siteId, BriefKind.Callout, id, stop) is not { } row)
            return Problems.NotFound("callout");
        var site = sites.GetById(siteId);
        var traffic = await reader.ReadAsync(siteId, stop);
        if (site.Broken.TryGetValue(id, out var broken))
            return TypedResults.Ok(
                new WhyView(
                    0,
                    0,
                    [
                        new WhyReasonView(
                            broken.GoesOn
                                ? $"What was published last cannot be shown: {broken.Why} Visitors see what was good before it."
                                : $"It is live and cannot be shown. {broken.Why}",
                            ControlPlace.State,
                            1,
                            "/",
                            "everybody"
                        ),
                    ]
                )
            );
        var callout =
            site.Snapshot.Callouts.FirstOrDefault(c => c.Id == id)
            ?? (
                CalloutView.Check(row.Draft.Read<Brief>(), site).Any(p => BriefFields.StopsTrying(p))
                    ? null
                    : BriefKind.Instance.Compile(row.In(row.State), row.Draft.Read<Brief>(), site.Context)
            );
        var (findings, pages) = Ask(site, row.State, id, callout, traffic, clock.GetCurrentInstant());
        var names = NotShownView.Names(site.Snapshot);
        return TypedResults.Ok(
            new WhyView(
                findings.ShownShare,
                pages,
                [
                    .. findings.Reasons.Select(r => new WhyReasonView(
                        ReasonSentence.Say(r.Reason, site.Zone, id => names.GetValueOrDefault(id)),
                        ReasonCatalogue.ControlOf(r.Reason),
                        r.Share,
                        r.Page.Path,
                        Words(r.Who)
                    )),
                ]
            )
        );
    }

    /// <summary>What is found for a callout on its own pages, and how many known pages it is for.</summary>
    /// <param name="site">The site.</param>
    /// <param name="state">How the callout stands.</param>
    /// <param name="id">Which it is.</param>
    /// <param name="callout">The callout compiled; null when it cannot be yet.</param>
    /// <param name="traffic">What was looked at.</param>
    /// <param name="now">When.</param>
    public static (SilenceFindings Findings, int Pages) Ask(
        LiveSite site,
        DefinitionState state,
        Guid id,
        Callout? callout,
        SiteTraffic traffic,
        Instant now
    )
    {
        var own = traffic
            .Pages.Select(p => (Page: p.Page, Views: (double)p.Views))
            .Where(p => callout?.Targeting.Pages.Decide(p.Page).Shown ?? true)
            .ToList();
        if (state != DefinitionState.Live)
            return (Only(new NotLive(state), site), own.Count);
        if (own.Count == 0)
            return (Only(new NoPageSeen(), site), 0);
        return (Silence.Ask(site.Snapshot, id, [.. own.Take(PagesPlayed)], Reading.TwoMinutes, now), own.Count);
    }

    private static SilenceFindings Only(Reason reason, LiveSite site) =>
        new(0, [new SilentFor(reason, PageAddress.Recorded(site.HomeHost, "/"), ImaginedVisitor.Newcomer, 1)]);

    private static string Words(ImaginedVisitor who) =>
        (who.VisitNumber == 1 ? "a new visitor" : "a returning visitor")
        + (who.MetEverything ? " who met everything before" : "")
        + (who.Device == Core.Visitors.Device.Phone ? " on a phone" : "");
}
