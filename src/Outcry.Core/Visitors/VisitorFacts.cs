using System.Collections.Immutable;
using NodaTime;
using Outcry.Core.Evidence;

namespace Outcry.Core.Visitors;

/// <summary>What is known of a visitor on this page view beside what the browser carries along.</summary>
public sealed record VisitorFacts
{
    /// <summary>A desktop of which nothing else is known.</summary>
    public static VisitorFacts Unknown { get; } = new();

    /// <summary>What the visitor holds.</summary>
    public Device Device { get; init; } = Device.Desktop;

    /// <summary>BCP 47 tags, the most wanted first.</summary>
    public IReadOnlyList<string> Languages { get; init; } = [];

    /// <summary>Where the visitor is, as far as the network tells.</summary>
    public Place Place { get; init; } = Place.Unknown;

    /// <summary>Whether the page has said who it is.</summary>
    public bool IsKnown { get; init; }

    /// <summary>What the page says of its visitor, by name.</summary>
    public IReadOnlyDictionary<string, string> Attributes { get; init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>The attribute by which pages say the tags.</summary>
    public const string TagsAttribute = "tags";

    /// <summary>Whether the snippet sends an attribute along: it leaves out what may say who somebody is, by its name.</summary>
    public static bool MayBeAsked(string attribute) =>
        !PrivateNames.Any(n => attribute.Contains(n, StringComparison.OrdinalIgnoreCase));

    // The same as in web/embed/src/core/calls.ts.
    private static readonly string[] PrivateNames = ["mail", "phone", "name", "street", "address"];

    /// <summary>The visitor's tags.</summary>
    public IReadOnlyCollection<string> Tags { get; init; } = [];

    /// <summary>Whether the visitor has agreed to be addressed and remembered.</summary>
    public bool Agreed { get; init; }

    /// <summary>How far the visitor's clock is ahead of universal time.</summary>
    public Offset LocalOffset { get; init; } = Offset.Zero;
}

/// <summary>Something that a visitor did on the site.</summary>
/// <param name="Kind">What.</param>
/// <param name="SourceId">Through which source it was heard.</param>
/// <param name="At">When.</param>
/// <param name="Product">About what; empty when about nothing.</param>
/// <param name="Category">Of which category.</param>
public readonly record struct PastEvent(EventKind Kind, Guid SourceId, Instant At, string Product, string Category);
