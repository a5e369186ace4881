namespace Outcry.Core.Evidence;

/// <summary>What is said of several kinds of event at once.</summary>
public static class EventKinds
{
    /// <summary>Kinds that no person is behind: figures and articles that were asked for, however often they are told.</summary>
    public static IReadOnlyList<EventKind> DoneByNobody { get; } =
    [EventKind.StockLevel, EventKind.Total, EventKind.Post];
}
