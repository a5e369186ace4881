using System.Text.Json.Nodes;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Core.Targeting;
using Outcry.Core.Visitors;
using Outcry.Store.Rows;

namespace Outcry.Server.Moving;

/// <summary>A workspace as one JSON document: what a team made, without its visitors, events, people and secrets.</summary>
/// <param name="Format">Always "outcry-bundle".</param>
/// <param name="Version">Of the document's shape: 1.</param>
internal sealed record Bundle(
    string Format,
    int Version,
    Instant MadeAt,
    string Workspace,
    HouseHabits Habits,
    IReadOnlyList<BundledSite> Sites
)
{
    public const string Name = "outcry-bundle";
    public const int Newest = 1;
}

internal sealed record BundledSite(
    Guid Id,
    string Name,
    string HomeAddress,
    string TimeZone,
    string Language,
    HouseRules Rules,
    IReadOnlyDictionary<string, string> Nouns,
    IReadOnlyDictionary<string, Dictionary<string, string>> OwnWords,
    ConsentMode Consent,
    Retention Keeps,
    WordChoice Words,
    BrandKit? Kit,
    IReadOnlyList<BundledGroup> Groups,
    IReadOnlyList<BundledSegment> Segments,
    IReadOnlyList<BundledSource> Sources,
    IReadOnlyList<BundledPicture> Pictures,
    IReadOnlyList<BundledDefinition> Definitions
);

internal sealed record BundledGroup(
    Guid Id,
    string Name,
    IReadOnlyList<string> Includes,
    IReadOnlyList<string> Excludes,
    int Position
);

internal sealed record BundledSegment(Guid Id, string Name, VisitorRule Rule);

/// <summary>A source without its secret.</summary>
internal sealed record BundledSource(
    Guid Id,
    string Name,
    SourceKind Kind,
    EventKind EventKind,
    FormMapping? Form,
    EventMap? Map,
    DisplayPolicy Display,
    SourceRules Rules,
    Polling? Poll,
    ScriptRules? Script
);

/// <param name="Bytes">The picture itself, in base 64.</param>
internal sealed record BundledPicture(Guid Id, string Name, byte[] Bytes);

/// <param name="Kind">"callout", "launcher".</param>
/// <param name="Draft">Its content, as the interface writes it.</param>
internal sealed record BundledDefinition(
    Guid Id,
    string Kind,
    string Name,
    string Group,
    DefinitionState State,
    JsonNode Draft,
    IReadOnlyList<BundledRevision> Revisions
);

internal sealed record BundledRevision(int Number, JsonNode Content, Instant PublishedAt, string PublishedBy);

/// <summary>What taking a bundle in did, or would do.</summary>
/// <param name="New">What is not here yet and is added; callouts and launchers as drafts or paused, sources paused.</param>
/// <param name="Differs">What is here by the same name and says something else; what became of it.</param>
/// <param name="Missing">What is named and is in neither.</param>
/// <param name="Same">How many are here already as they are.</param>
internal sealed record TakenInView(
    bool DryRun,
    IReadOnlyList<string> New,
    IReadOnlyList<string> Differs,
    IReadOnlyList<string> Missing,
    int Same
);
