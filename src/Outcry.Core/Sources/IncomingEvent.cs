using NodaTime;
using Outcry.Core.Evidence;

namespace Outcry.Core.Sources;

/// <summary>An event as a source reports it, before anything private is taken off.</summary>
public sealed record IncomingEvent
{
    /// <summary>The id under which the sender knows it; one event per source and id.</summary>
    public required string ExternalId { get; init; }

    /// <summary>The id of the delivery that brought it, where the way in has such ids.</summary>
    public string? DeliveryId { get; init; }

    /// <summary>What sort of thing.</summary>
    public required EventKind Kind { get; init; }

    /// <summary>When it happened.</summary>
    public required Instant At { get; init; }

    /// <summary>First name, or the whole name when there is no last one.</summary>
    public string? FirstName { get; init; }

    /// <summary>Last name; only its initial is ever kept.</summary>
    public string? LastName { get; init; }

    /// <summary>E-mail address; only a mask and a keyed hash are ever kept.</summary>
    public string? Email { get; init; }

    /// <summary>Phone number; only a mask and a keyed hash are ever kept.</summary>
    public string? Phone { get; init; }

    /// <summary>City.</summary>
    public string? City { get; init; }

    /// <summary>Region.</summary>
    public string? Region { get; init; }

    /// <summary>Country.</summary>
    public string? Country { get; init; }

    /// <summary>The visitor whose browser did it, if known.</summary>
    public string? VisitorId { get; init; }

    /// <summary>Address of the page on which it happened.</summary>
    public string? Page { get; init; }

    /// <summary>What it was about.</summary>
    public EventProduct? Product { get; init; }

    /// <summary>Amount of money.</summary>
    public decimal? Amount { get; init; }

    /// <summary>ISO 4217 code of the amount.</summary>
    public string? Currency { get; init; }

    /// <summary>Further fields by name.</summary>
    public IReadOnlyDictionary<string, string> Fields { get; init; } = new Dictionary<string, string>();

    /// <summary>A member's own try, or a sender's test.</summary>
    public bool IsTest { get; init; }

    /// <summary>Whether it came with more of its kind than its source ever has, so that somebody should look first.</summary>
    public bool IsRush { get; init; }

    /// <summary>Every text of it that visitors could come to read, for the search for blocked words.</summary>
    public IEnumerable<string?> ShownTexts
    {
        get
        {
            yield return FirstName;
            yield return City;
            yield return Region;
            yield return Country;
            yield return Product?.Name;
            yield return Product?.Category;
            foreach (var value in Fields.Values)
                yield return value;
        }
    }
}

/// <summary>A part of what arrived that is missing or wrong, in the sender's own spelling.</summary>
/// <param name="Field">Which part.</param>
/// <param name="Sentence">What is wrong with it and what would be right.</param>
public sealed record ArrivalFault(string Field, string Sentence);
