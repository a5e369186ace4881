using NodaTime;
using Outcry.Store.Signals;

namespace Outcry.Server.Callouts;

/// <summary>How a callout has fared, over all time.</summary>
internal sealed record FiguresView(int Shown, int Clicked, int Closed, Instant? LastShownAt)
{
    public static FiguresView None { get; } = new(0, 0, 0, null);
}

/// <summary>Counts what the snippet reported of callouts.</summary>
internal sealed class CalloutFigures(SignalFigures signals)
{
    public async Task<Dictionary<Guid, FiguresView>> ReadAsync(
        IReadOnlyCollection<Guid> callouts,
        CancellationToken stop
    ) =>
        (await signals.OfCalloutsAsync(callouts, stop)).ToDictionary(
            c => c.CalloutId,
            c => new FiguresView(c.Shown, c.Clicked, c.Closed, c.LastShownAt)
        );
}
