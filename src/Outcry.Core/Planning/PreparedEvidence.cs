using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;

namespace Outcry.Core.Planning;

/// <summary>One event worded for visitors.</summary>
/// <param name="Event">The event.</param>
/// <param name="Spans">What is said.</param>
/// <param name="Meta">The line below it: rough time and place; empty when hidden.</param>
/// <param name="Picture">Address of a picture; null for initials or none.</param>
/// <param name="Initials">Letters for a picture made of initials; empty for a plain sign.</param>
/// <param name="Link">Where a click leads; null for nowhere.</param>
/// <param name="Length">Characters said, which lengthen the stay.</param>
public sealed record PreparedTurn(
    LedgerEvent Event,
    IReadOnlyList<Span> Spans,
    string Meta,
    string? Picture,
    string Initials,
    string? Link,
    int Length
);

/// <summary>A callout's evidence at one moment, worded and ready, the same for every visitor but for their own events.</summary>
/// <param name="Counted">Events drawn on, whoever reads.</param>
/// <param name="Span">The stretch they truly cover.</param>
/// <param name="Turns">The newest of them, worded.</param>
/// <param name="Events">All of them, newest first.</param>
public sealed record PreparedEvidence(
    int Counted,
    Duration Span,
    IReadOnlyList<PreparedTurn> Turns,
    IReadOnlyList<LedgerEvent> Events
)
{
    /// <summary>Events worded ahead: more than any callout tells in one page view.</summary>
    public const int MostWorded = 50;

    /// <summary>Nothing to draw on.</summary>
    public static PreparedEvidence None { get; } = new(0, Duration.Zero, [], []);

    /// <summary>Selects and words a callout's events.</summary>
    /// <param name="callout">The callout.</param>
    /// <param name="newestFirst">The site's events, newest first.</param>
    /// <param name="displayOf">What each source allows to be read.</param>
    /// <param name="now">Counted back from here.</param>
    public static PreparedEvidence Prepare(
        Callout callout,
        IEnumerable<LedgerEvent> newestFirst,
        Func<Guid, DisplayPolicy> displayOf,
        Instant now
    )
    {
        var selection = EvidenceSelector.Select(newestFirst, callout.Evidence, now);
        var crowd = new PlaceCrowd(selection.Counted);
        var worded = selection
            .Counted.Take(MostWorded)
            .Select(e => Word(callout.Message, callout.Brief.Say, e, displayOf(e.SourceId), crowd, now))
            .ToArray();
        return new PreparedEvidence(selection.Counted.Count, selection.Span, worded, selection.Counted);
    }

    /// <summary>Words one event as visitors read it.</summary>
    public static PreparedTurn Word(
        MessageTemplate message,
        SayFacet say,
        LedgerEvent happened,
        DisplayPolicy display,
        PlaceCrowd crowd,
        Instant now
    )
    {
        var values = EventTokens.Read(happened, display, crowd, now);
        var spans = message.Render(values);
        var named = display.Name != NameStyle.Hidden;
        return new PreparedTurn(
            happened,
            spans,
            say.ShowTime ? RelativeTime.Ago(now - happened.At, capital: true) : "",
            say.Picture == SayPicture.Product ? SafeLink.TryPassPicture(happened.Product?.Picture) : null,
            say.Picture != SayPicture.None && named ? happened.Name.Initials : "",
            say.Link switch
            {
                LinkTarget.Product => SafeLink.TryPass(happened.Product?.Address),
                LinkTarget.Address => SafeLink.TryPass(say.LinkAddress),
                _ => null,
            },
            spans.Sum(s => s.Text.Length)
        );
    }
}
