using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Publishing;
using Outcry.Core.Rehearsing;
using Outcry.Core.Visitors;
using Outcry.Server.Audience;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.RunSheet;

/// <summary>The run sheet for an imagined visitor, as of now or another hour, as it is or with one change tried out.</summary>
internal static class ShowRunSheet
{
    public static async Task<Results<Ok<RunSheetView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        [AsParameters] SheetQuery query,
        OutcryDb db,
        LiveSites sites,
        TrafficReader reader,
        CensusTaker taker,
        IClock clock,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var (setting, problem) = query.Read(site, clock.GetCurrentInstant());
        if (setting is null)
            return problem!;
        var groups = await GroupsAsync(db, siteId, stop);
        var states = await db.DefinitionsOf(siteId, BriefKind.Callout)
            .GroupBy(c => c.State)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, stop);
        var census = await taker.ReadAsync(site, stop);
        var traffic = await reader.ReadAsync(siteId, stop);
        var hasGroups = groups.Count > 0;
        if (!hasGroups)
            groups = [.. new RunSheetMaker(site, setting, traffic, census).LanesHeard];
        var maker = new RunSheetMaker(site, setting, traffic, census) { Groups = groups };
        var (lanes, effects, off) = maker.Make(groups);
        return TypedResults.Ok(
            new RunSheetView(
                setting.Persona,
                setting.At,
                setting.IsNow,
                site.OffAir,
                site.Rules,
                states.GetValueOrDefault(DefinitionState.Draft),
                states.GetValueOrDefault(DefinitionState.Paused),
                Share(census, setting, site),
                Hours(census, site.Zone),
                setting.Who,
                setting.Assumed,
                (int)(Reading.UsualCloseAfterMs / 1000),
                setting is { Change: { } change, Changed: { } changed }
                    ? new TrialChangeView(
                        changed.Id,
                        changed.Name,
                        change.Say(changed.Brief),
                        change.Apply(changed.Brief),
                        effects
                    )
                    : null,
                hasGroups,
                lanes,
                off
            )
        );
    }

    public static async Task<Results<Ok<LaneDetailView>, ProblemHttpResult>> LaneAsync(
        Guid siteId,
        Guid groupId,
        [AsParameters] SheetQuery query,
        OutcryDb db,
        LiveSites sites,
        TrafficReader reader,
        CensusTaker taker,
        IClock clock,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var (setting, problem) = query.Read(site, clock.GetCurrentInstant());
        if (setting is null)
            return problem!;
        var groups = await GroupsAsync(db, siteId, stop);
        var (traffic, census) = (await reader.ReadAsync(siteId, stop), await taker.ReadAsync(site, stop));
        if (groups.Count == 0)
            groups = [.. new RunSheetMaker(site, setting, traffic, census).LanesHeard];
        if ((groupId == Guid.Empty ? RunSheetMaker.Others : groups.Find(g => g.Id == groupId)) is not { } group)
            return Problems.NotFound("page group");
        var maker = new RunSheetMaker(site, setting, traffic, census) { Groups = groups };
        return TypedResults.Ok(maker.Detail(group));
    }

    private static Task<List<PageGroupRow>> GroupsAsync(OutcryDb db, Guid siteId, CancellationToken stop) =>
        db.PageGroups.AsNoTracking().Where(g => g.SiteId == siteId).OrderBy(g => g.Position).ToListAsync(stop);

    // Of the personas only their standing is recorded, so that is what is counted.
    private static double? Share(Census census, SheetSetting setting, LiveSite site)
    {
        if (census.Visits.Count == 0)
            return null;
        var rule = setting.Segment is { } id
            ? CompiledRule.Compile(new InSegment(id), site.Context.Segments)
            : CompiledRule.Everybody;
        var language = setting.Who.Languages.Count > 0 ? setting.Who.Languages[0] : null;
        var such = census.Visits.Count(v =>
            v.Visit.Facts.Device == setting.Who.Device
            && (v.Visit.Number == 1) == (setting.Persona == Persona.New)
            && (
                language is null
                || v.Visit.Facts.Languages.Any(l => l.StartsWith(language, StringComparison.OrdinalIgnoreCase))
            )
            && (rule.IsOpen || rule.Holds(Census.ReaderOf(v, site.Snapshot)))
        );
        return Math.Round((double)such / census.Visits.Count, 4);
    }

    private static double[] Hours(Census census, DateTimeZone zone)
    {
        var hours = new double[24];
        foreach (var visit in census.Visits)
            hours[visit.At.InZone(zone).Hour] += 1.0 / census.Visits.Count;
        return [.. hours.Select(h => Math.Round(h, 4))];
    }
}
