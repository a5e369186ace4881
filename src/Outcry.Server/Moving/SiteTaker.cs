using System.Security.Cryptography;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Care;
using Outcry.Core.Publishing;
using Outcry.Server.Intake;
using Outcry.Server.Pictures;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Moving;

/// <summary>
/// Takes one site of a bundle into a workspace. What is here by the same name stays what it is; what was live elsewhere comes in
/// paused or as a draft, so that nothing is shown and nothing fetched before somebody here says so.
/// </summary>
internal sealed partial class SiteTaker(
    OutcryDb db,
    CurrentMember member,
    LiveKinds kinds,
    IClock clock,
    BundledSite from,
    SiteRow to,
    bool isNew
)
{
    private const int LongestName = 80;
    private readonly Dictionary<string, string> _ids = [];
    private readonly List<string> _new = [];
    private readonly List<string> _differs = [];
    private readonly List<string> _missing = [];
    private int _same;

    public async Task<TakenInView> TakeAsync(bool dryRun, CancellationToken stop)
    {
        if (isNew)
            _new.Add($"the site {to.Name}");
        await MatchAsync(stop);
        TakeGroups();
        TakeSegments();
        TakeSources();
        await TakePicturesAsync(stop);
        if (isNew && to.Kit is { } kit)
            to.Kit = Rewrite(kit);
        TakeDefinitions();
        await db.SaveChangesAsync(stop);
        return new TakenInView(dryRun, _new, _differs, _missing, _same);
    }

    private List<PageGroupRow> _groups = [];
    private List<SegmentRow> _segments = [];
    private List<SourceRow> _sources = [];
    private List<PictureRow> _pictures = [];
    private List<DefinitionRow> _definitions = [];

    // First every id that will be named, so that what names it can be written with the new one.
    private async Task MatchAsync(CancellationToken stop)
    {
        _groups = await db.PageGroups.Where(g => g.SiteId == to.Id).ToListAsync(stop);
        _segments = await db.Segments.Where(s => s.SiteId == to.Id).ToListAsync(stop);
        _sources = await db.Sources.Where(s => s.SiteId == to.Id && s.DeletedAt == null).ToListAsync(stop);
        _pictures = await db.Pictures.Where(p => p.SiteId == to.Id).ToListAsync(stop);
        _definitions = await db.Definitions.Where(d => d.SiteId == to.Id && d.DeletedAt == null).ToListAsync(stop);
        // A new site begins with a group of its own, which the bundle's takes the place of.
        if (isNew)
        {
            db.PageGroups.RemoveRange(_groups);
            _groups = [];
        }
        foreach (var g in from.Groups)
            Map(g.Id, _groups.Find(x => x.Name == Name(g.Name))?.Id);
        foreach (var s in from.Segments)
            Map(s.Id, _segments.Find(x => x.Name == Name(s.Name))?.Id);
        // Names of these are not one's own alone: each here is met by one of the bundle's at most.
        var taken = new HashSet<Guid>();
        foreach (var s in from.Sources)
            Map(
                s.Id,
                _sources
                    .Find(x =>
                        x.Name == Name(s.Name)
                        && x.Kind == s.Kind
                        && x.EventKind == s.EventKind
                        && !taken.Contains(x.Id)
                    )
                    ?.Id,
                taken
            );
        foreach (var p in from.Pictures)
            Map(p.Id, _pictures.Find(x => x.Hash.AsSpan().SequenceEqual(SHA256.HashData(p.Bytes)))?.Id);
        MatchDefinitions(taken);
    }

    // Those that say the same belong together; the rest goes by its name.
    private void MatchDefinitions(HashSet<Guid> taken)
    {
        var open = new List<BundledDefinition>();
        foreach (var d in from.Definitions)
        {
            var draft = Rewrite(d.Draft).ToNode();
            var same = Named(d).FirstOrDefault(x => JsonNode.DeepEquals(x.Draft.ToNode(), draft));
            if (same is null)
                open.Add(d);
            else
                Map(d.Id, same.Id, taken);
        }
        foreach (var d in open)
            Map(d.Id, Named(d).FirstOrDefault()?.Id, taken);

        IEnumerable<DefinitionRow> Named(BundledDefinition d) =>
            _definitions.Where(x => x.Name == Name(d.Name) && x.Kind == d.Kind && !taken.Contains(x.Id));
    }

    private void Map(Guid was, Guid? here, HashSet<Guid>? taken = null)
    {
        _ids[$"{was}"] = $"{here ?? Guid.CreateVersion7()}";
        if (here is { } id)
            taken?.Add(id);
    }

    private Guid IdOf(Guid was) => Guid.Parse(_ids[$"{was}"]);

    private static string Name(string name) => PlainText.Clip(PlainText.OrNull(name) ?? "Without a name", LongestName);

    private void TakeGroups()
    {
        foreach (var g in from.Groups)
        {
            if (_groups.Find(x => x.Id == IdOf(g.Id)) is { } here)
                Compare(
                    here.Includes.SequenceEqual(g.Includes) && here.Excludes.SequenceEqual(g.Excludes),
                    $"the page group {here.Name}: kept as it is here"
                );
            else if (TryRule(g))
            {
                _new.Add($"the page group {Name(g.Name)}");
                db.PageGroups.Add(
                    new PageGroupRow
                    {
                        Id = IdOf(g.Id),
                        WorkspaceId = to.WorkspaceId,
                        SiteId = to.Id,
                        Name = Name(g.Name),
                        Includes = [.. g.Includes],
                        Excludes = [.. g.Excludes],
                        Position = g.Position,
                    }
                );
            }
            else
                _missing.Add($"the page group {Name(g.Name)} has patterns that cannot be read");
        }
    }

    private static bool TryRule(BundledGroup group)
    {
        try
        {
            Core.Pages.PageRule.Parse(group.Includes, group.Excludes);
            return true;
        }
        catch (FormatException)
        {
            return false;
        }
    }

    private void TakeSegments()
    {
        foreach (var s in from.Segments)
        {
            var rule = Rewrite(s.Rule);
            if (_segments.Find(x => x.Id == IdOf(s.Id)) is { } here)
                Compare(IsSame(here.Rule, rule), $"the segment {here.Name}: kept as it is here");
            else
            {
                _new.Add($"the segment {Name(s.Name)}");
                db.Segments.Add(
                    new SegmentRow
                    {
                        Id = IdOf(s.Id),
                        WorkspaceId = to.WorkspaceId,
                        SiteId = to.Id,
                        Name = Name(s.Name),
                        Rule = rule,
                        ChangedAt = clock.GetCurrentInstant(),
                        ChangedBy = member.Name,
                    }
                );
            }
        }
    }

    private void TakeSources()
    {
        foreach (var s in from.Sources)
        {
            if (_sources.Exists(x => x.Id == IdOf(s.Id)))
            {
                _same++;
                continue;
            }
            // A shop's and a launcher's sources are made by those.
            if (s.Kind is SourceKind.Shop or SourceKind.Launcher or SourceKind.Prompt)
            {
                _missing.Add($"the source {Name(s.Name)}: connect the shop or publish the launcher here");
                continue;
            }
            _new.Add($"the source {Name(s.Name)}, paused");
            db.Sources.Add(
                new SourceRow
                {
                    Id = IdOf(s.Id),
                    WorkspaceId = to.WorkspaceId,
                    SiteId = to.Id,
                    Name = Name(s.Name),
                    Kind = s.Kind,
                    EventKind = s.EventKind,
                    // Of its own: who knows the other site's secret may not post here.
                    Secret = s.Kind == SourceKind.SignedWebhook ? StandardWebhooks.NewSecret() : null,
                    Form = s.Form,
                    Map = s.Map,
                    Display = s.Display,
                    Rules = s.Rules,
                    Poll = s.Poll,
                    Script = s.Script,
                    CreatedAt = clock.GetCurrentInstant(),
                    PausedAt = clock.GetCurrentInstant(),
                }
            );
        }
    }

    private async Task TakePicturesAsync(CancellationToken stop)
    {
        foreach (var p in from.Pictures)
        {
            if (_pictures.Exists(x => x.Id == IdOf(p.Id)))
            {
                _same++;
                continue;
            }
            // Drawn anew as every picture that comes in.
            var (picture, fault) = await PictureFile.ReadAsync(p.Bytes, stop);
            if (picture is null)
            {
                _missing.Add($"the picture {Name(p.Name)}: {fault}");
                continue;
            }
            _new.Add($"the picture {Name(p.Name)}");
            db.Pictures.Add(
                new PictureRow
                {
                    Id = IdOf(p.Id),
                    WorkspaceId = to.WorkspaceId,
                    SiteId = to.Id,
                    Name = Name(p.Name),
                    MediaType = picture.MediaType,
                    Width = picture.Width,
                    Height = picture.Height,
                    IsMoving = picture.IsMoving,
                    Bytes = picture.Bytes,
                    Hash = SHA256.HashData(p.Bytes),
                    AddedAt = clock.GetCurrentInstant(),
                    AddedBy = member.Name,
                }
            );
        }
    }

    private void TakeDefinitions()
    {
        var now = clock.GetCurrentInstant();
        foreach (var d in from.Definitions)
        {
            var draft = Rewrite(d.Draft);
            var words = $"the {d.Kind} {Name(d.Name)}";
            if (!kinds.CanRead(d.Kind, draft))
            {
                _missing.Add($"{words}: its content cannot be read here");
                continue;
            }
            NoteMissing(words, kinds.ReferencesOf(d.Kind, draft));
            if (_definitions.Find(x => x.Id == IdOf(d.Id)) is { } here)
            {
                if (JsonNode.DeepEquals(here.Draft.ToNode(), draft.ToNode()))
                {
                    _same++;
                    continue;
                }
                _differs.Add($"{words}: becomes its draft; what is live stays");
                (here.Draft, here.ChangedAt, here.ChangedBy) = (draft, now, member.Name);
                here.DraftVersion++;
                here.Authors = [.. here.Authors.Append(member.Id).Distinct()];
                continue;
            }
            var revisions = d
                .Revisions.Select(r => (r, Content: Rewrite(r.Content)))
                .Where(r => kinds.CanRead(d.Kind, r.Content))
                .ToList();
            _new.Add($"{words}, {(revisions.Count > 0 ? "paused" : "as a draft")}");
            db.Definitions.Add(
                new DefinitionRow
                {
                    Id = IdOf(d.Id),
                    WorkspaceId = to.WorkspaceId,
                    SiteId = to.Id,
                    Kind = d.Kind,
                    Name = Name(d.Name),
                    State =
                        d.State == DefinitionState.Archived ? DefinitionState.Archived
                        : revisions.Count > 0 ? DefinitionState.Paused
                        : DefinitionState.Draft,
                    Draft = draft,
                    DraftVersion = 1,
                    Revision = revisions.Count,
                    CreatedAt = now,
                    ChangedAt = now,
                    ChangedBy = member.Name,
                    Authors = [member.Id],
                    Group = PlainText.Clip(PlainText.Clean(d.Group), 40),
                }
            );
            for (var i = 0; i < revisions.Count; i++)
                db.Revisions.Add(
                    new RevisionRow
                    {
                        WorkspaceId = to.WorkspaceId,
                        DefinitionId = IdOf(d.Id),
                        Number = i + 1,
                        Content = revisions[i].Content,
                        PublishedAt = revisions[i].r.PublishedAt,
                        PublishedBy = Name(revisions[i].r.PublishedBy),
                    }
                );
        }
    }

    private void NoteMissing(string words, References named)
    {
        var known = _ids.Values.ToHashSet(StringComparer.Ordinal);
        foreach (
            var (what, ids) in new (string, IReadOnlySet<Guid>)[]
            {
                ("segment", named.Segments),
                ("page group", named.PageGroups),
                ("source", named.Sources),
            }
        )
            if (ids.Any(id => !known.Contains($"{id}")))
                _missing.Add($"{words} names a {what} that the bundle does not have");
    }

    private void Compare(bool isSame, string differs)
    {
        if (isSame)
            _same++;
        else
            _differs.Add(differs);
    }

    private static bool IsSame<T>(T one, T other) =>
        System.Text.Json.JsonSerializer.Serialize(one, JsonColumn.Options)
        == System.Text.Json.JsonSerializer.Serialize(other, JsonColumn.Options);

    // Ids stand in contents by themselves and within addresses of pictures; one that is not the bundle's own stays.
    private string Rewrite(string json) => Ids().Replace(json, m => _ids.GetValueOrDefault(m.Value, m.Value));

    private KeptContent Rewrite(JsonNode content) => new(Rewrite(content.ToJsonString(JsonColumn.Options)));

    private T Rewrite<T>(T value)
        where T : class =>
        System.Text.Json.JsonSerializer.Deserialize<T>(
            Rewrite(System.Text.Json.JsonSerializer.Serialize(value, JsonColumn.Options)),
            JsonColumn.Options
        )!;

    [GeneratedRegex("[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}")]
    private static partial Regex Ids();
}
