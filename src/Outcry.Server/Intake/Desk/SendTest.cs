using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Sources;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Desk;

/// <summary>The test event in the ledger.</summary>
internal sealed record TestSentView(Guid EventId);

/// <summary>Sends a made-up event the way the source's own come, marked as the member's test: never shown, never counted.</summary>
internal static class SendTest
{
    public static async Task<Results<Ok<TestSentView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        Guid sourceId,
        OutcryDb db,
        EventRecorder recorder,
        LiveSites sites,
        CurrentMember member,
        IClock clock,
        CancellationToken stop
    )
    {
        if (await ChangeSource.FindAsync(db, siteId, sourceId, stop) is not { } row)
            return Problems.NotFound("source");
        var now = clock.GetCurrentInstant();
        // A test looks at the way from here on; what the source leaves out by condition is no question of it.
        var open = new SourceRow
        {
            Id = row.Id,
            WorkspaceId = row.WorkspaceId,
            SiteId = row.SiteId,
            Name = row.Name,
            Kind = row.Kind,
            EventKind = row.EventKind,
            Display = row.Display,
            PausedAt = row.PausedAt,
        };
        var sample = Sample(row, member, sites.GetById(siteId), now);
        var recorded = await recorder.RecordAsync(sample, open, isOwn: true, now, stop);
        return recorded.EventId is { } id
            ? TypedResults.Ok(new TestSentView(id))
            : Problems.Of(StatusCodes.Status409Conflict, "left-out", "The test was left out", recorded.Because ?? "");
    }

    private static IncomingEvent Sample(SourceRow source, CurrentMember member, LiveSite site, Instant now)
    {
        var name = member.Name.Split(' ', 2);
        var fields = EventFields
            .OfKind(source.EventKind)
            .Concat(source.Form?.Fields ?? [])
            .Concat(source.Map?.Fields.Keys ?? [])
            .Distinct()
            .ToDictionary(f => f, SampleOf);
        var hasAmount = source.EventKind is EventKind.Purchase or EventKind.Booking;
        return new IncomingEvent
        {
            ExternalId = $"test:{now.ToUnixTimeTicks().ToString(CultureInfo.InvariantCulture)}",
            Kind = source.EventKind,
            At = now,
            FirstName = name[0],
            LastName = name.Length > 1 ? name[1] : null,
            Email = member.Email,
            Page = site.HomeAddress,
            Product = new EventProduct("Test piece", site.HomeAddress),
            Amount = hasAmount ? 1 : null,
            Currency = hasAmount ? "GBP" : null,
            Fields = fields,
            IsTest = true,
        };
    }

    private static string SampleOf(string field) =>
        field switch
        {
            EventFields.Stars => "5",
            EventFields.Left => "3",
            EventFields.Total => "100",
            EventFields.Of => "followers",
            _ => "test",
        };
}
