using NodaTime;
using Outcry.Core.Visitors;
using Outcry.Store.Rows;

namespace Outcry.Standins.Seed;

/// <summary>The segments that the pottery's team has named.</summary>
internal static class Segments
{
    public static IEnumerable<SegmentRow> Of(SiteRow site, Instant at)
    {
        SegmentRow Named(string name, VisitorRule rule) =>
            new()
            {
                WorkspaceId = site.WorkspaceId,
                SiteId = site.Id,
                Name = name,
                Rule = rule,
                ChangedAt = at,
                ChangedBy = "Marta Quill",
            };
        yield return Named("Regulars", new FactTest(VisitorFact.VisitNumber, FactComparison.AtLeast, "3"));
        yield return Named(
            "New on phones",
            new AllOf([
                new FactTest(VisitorFact.Standing, FactComparison.Is, "new"),
                new FactTest(VisitorFact.Device, FactComparison.Is, "phone"),
            ])
        );
        yield return Named(
            "Back, bought nothing",
            new AllOf([
                new FactTest(VisitorFact.Standing, FactComparison.Is, "returning"),
                new NotThis(new FactTest(VisitorFact.Bought, FactComparison.Is)),
            ])
        );
        yield return Named(
            "Readers of the journal",
            new FactTest(VisitorFact.EntryPage, FactComparison.Is, "/journal/**")
        );
    }
}
