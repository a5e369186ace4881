using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Explaining;
using Outcry.Core.Pages;
using Outcry.Core.Planning;
using Outcry.Core.Rehearsing;
using Outcry.Server.Callouts;
using Outcry.Server.Passports;
using Outcry.Server.Platform;
using Outcry.Server.Sites;

namespace Outcry.Server.Visitor;

/// <summary>Plans the pages of a trial visit: the live site as met by a visitor of somebody's choosing, none of it counted.</summary>
internal sealed class TrialWalk(SystemDb database, LookedCounter counter, SnippetFiles files, TeamPresence team)
{
    public async Task<PlanResponse> PlanAsync(
        LiveSite site,
        PageAddress page,
        PlanRequest request,
        PrivateTokenBody token,
        string desk,
        Instant now,
        CancellationToken stop
    )
    {
        var (who, lifted) = token.R!;
        var snapshot = await SnapshotAsync(site, token.C, now, stop);
        // The walk's own passport, kept in its tab, goes on from page to page; one of another walk is somebody else's.
        var own = Passport.MemberPrefix + Mark(request.Token!);
        var known = Passport.TryRead(site, request.Passport);
        var visitor =
            known?.VisitorId.StartsWith(own, StringComparison.Ordinal) == true
                ? VisitorLog.Fold(site, known, request.Log, now)
                : who.RecordAt(own + Passport.New(now, isMember: false).VisitorId, now, snapshot.Callouts);
        visitor = visitor.Arrive(now).CameIn(who.CameBy with { EntryPage = page.ToNote() });
        // Lifted limits are lifted in the browser too, which holds to hush and budget by itself.
        if (lifted)
            visitor = visitor.Unrestrained();
        var plan = Planner.MakePlan(
            snapshot,
            page,
            visitor,
            who.FactsAt(now, site.Zone),
            now,
            new PlanOptions(Explain: true, lifted) { PastEvents = who.PastEventsAt(now) }
        );
        return PlanPage.Write(
            site,
            page,
            visitor,
            plan,
            now,
            new MarkPart(files.Paths.Member, "", [], Trial: Panel(site, plan, who, lifted, token.U, desk)),
            null,
            counted: false,
            files.Paths,
            store: true
        ) with
        {
            Launcher = PlanPage.LauncherOf(
                plan,
                new LauncherReader(
                    site,
                    page,
                    who.FactsAt(now, site.Zone),
                    team.NamesOf(site.WorkspaceId, plan.Stands?.Brief.GroupId),
                    snapshot.Conditions.Team,
                    now
                ),
                files.Paths
            ),
        };
    }

    private async Task<SiteSnapshot> SnapshotAsync(LiveSite site, Guid? draft, Instant now, CancellationToken stop)
    {
        if (draft is not { } id)
            return site.Snapshot;
        await using var db = database.Open();
        var row = await db.DefinitionsOf(site.Id, BriefKind.Callout)
            .AsNoTracking()
            .FirstOrDefaultAsync(c => c.Id == id, stop);
        return row is null
            ? site.Snapshot
            : (await DraftSnapshot.TryMakeAsync(site, row, counter, now, stop))?.Site ?? site.Snapshot;
    }

    private static TrialPanelPart Panel(
        LiveSite site,
        Plan plan,
        ImaginedVisitor who,
        bool lifted,
        long untilSeconds,
        string desk
    )
    {
        var names = plan
            .Armed.Select(a => a.Callout)
            .Concat(plan.LeftOut.Select(l => l.Callout))
            .ToDictionary(c => c.Id, c => c.Name);
        string Address(Callout callout, ControlPlace place) =>
            place switch
            {
                ControlPlace.HouseRules => $"{desk}/?panel=rules",
                ControlPlace.OffAir or ControlPlace.RunSheet => $"{desk}/",
                _ => string.Create(
                    CultureInfo.InvariantCulture,
                    $"{desk}/callouts/{callout.Id}?open={char.ToLowerInvariant(place.ToString()[0])}{place.ToString()[1..]}"
                ),
            };
        return new TrialPanelPart(
            Words(who),
            lifted,
            [
                .. plan
                    .Armed.OrderBy(a => a.DueMs ?? long.MaxValue)
                    .Select(a => new TrialItemPart(
                        a.Callout.Id,
                        a.Callout.Name,
                        Shows: true,
                        a.DueMs,
                        a.DueWords,
                        Address(a.Callout, ControlPlace.When)
                    )),
                .. plan
                    .LeftOut.OrderBy(l => ReasonCatalogue.RankOf(l.Reason))
                    .Select(l => new TrialItemPart(
                        l.Callout.Id,
                        l.Callout.Name,
                        Shows: false,
                        null,
                        ReasonSentence.Say(l.Reason, site.Zone, id => names.GetValueOrDefault(id)),
                        Address(l.Callout, ReasonCatalogue.ControlOf(l.Reason))
                    )),
            ],
            untilSeconds * 1000
        );
    }

    // Two walks that begin in the same instant, as whoever it is, are two walks: their links differ.
    private static string Mark(string token) =>
        Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(token)))[..12] + "-";

    private static string Words(ImaginedVisitor who)
    {
        var assumed = RehearsalWords.Assumed(ImaginedVisitor.Newcomer, who);
        var first = who.VisitNumber == 1 ? "A new visitor" : "A visitor";
        return assumed.Count == 0 ? first : $"{first} {string.Join(", ", assumed)}";
    }
}
