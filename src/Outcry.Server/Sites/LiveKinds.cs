using System.Text.Json.Nodes;
using Outcry.Core.Publishing;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Sites;

/// <summary>A kind of definition as sites in memory need it: its content is whatever JSON the store has.</summary>
internal interface ILiveKind
{
    string Noun { get; }

    /// <exception cref="FormatException">It cannot be read, or is not valid any more.</exception>
    object Compile(DefinitionRow row, KeptContent content, SiteContext context);

    /// <exception cref="FormatException">It cannot be read.</exception>
    References ReferencesOf(KeptContent content);

    /// <exception cref="FormatException">It cannot be read.</exception>
    IEnumerable<string> PlacesOf(KeptContent content);

    /// <exception cref="FormatException">It cannot be read.</exception>
    string PromiseOf(KeptContent content);

    /// <exception cref="FormatException">It cannot be read.</exception>
    /// <summary>It in the kit's looks; null where it looks so already.</summary>
    KeptContent? Dress(KeptContent content, BrandKit kit);
}

internal sealed class LiveKind<TContent, TCompiled>(DefinitionKind<TContent, TCompiled> kind) : ILiveKind
    where TContent : class
    where TCompiled : class
{
    public string Noun => kind.Noun;

    public object Compile(DefinitionRow row, KeptContent content, SiteContext context) =>
        kind.Compile(row.In(row.State), content.Read<TContent>(), context);

    public References ReferencesOf(KeptContent content) => kind.ReferencesOf(content.Read<TContent>());

    public IEnumerable<string> PlacesOf(KeptContent content) => kind.PlacesOf(content.Read<TContent>());

    public string PromiseOf(KeptContent content) => kind.PromiseOf(content.Read<TContent>());

    public KeptContent? Dress(KeptContent content, BrandKit kit)
    {
        var before = content.Read<TContent>();
        var dressed = KeptContent.Of(kind.Dress(before, kit));
        // Not beside what was kept: it may be older than the newest fields.
        return JsonNode.DeepEquals(dressed.ToNode(), KeptContent.Of(before).ToNode()) ? null : dressed;
    }
}

/// <summary>All kinds of definition there are.</summary>
internal sealed class LiveKinds(IEnumerable<ILiveKind> kinds)
{
    private readonly Dictionary<string, ILiveKind> _byNoun = kinds.ToDictionary(k => k.Noun);

    /// <exception cref="FormatException">It cannot be read, or is not valid any more.</exception>
    public object Compile(DefinitionRow row, KeptContent content, SiteContext context) =>
        _byNoun.TryGetValue(row.Kind, out var kind)
            ? kind.Compile(row, content, context)
            : throw new FormatException($"Nothing here knows what a {row.Kind} is.");

    /// <summary>The shared pieces that a content names; none that can be read of one that cannot.</summary>
    public References ReferencesOf(string noun, KeptContent content)
    {
        try
        {
            return _byNoun.TryGetValue(noun, out var kind) ? kind.ReferencesOf(content) : References.None;
        }
        catch (FormatException)
        {
            return References.None;
        }
    }

    /// <summary>Elements that a content asks pages about; none of one that cannot be read.</summary>
    public IEnumerable<string> PlacesOf(string noun, KeptContent content)
    {
        try
        {
            return _byNoun.TryGetValue(noun, out var kind) ? [.. kind.PlacesOf(content)] : [];
        }
        catch (FormatException)
        {
            return [];
        }
    }

    /// <summary>What a content promises visitors; nothing that can be read of one that cannot.</summary>
    public string PromiseOf(string noun, KeptContent content)
    {
        try
        {
            return _byNoun.TryGetValue(noun, out var kind) ? kind.PromiseOf(content) : "";
        }
        catch (FormatException)
        {
            return "";
        }
    }

    /// <summary>Whether a content can be read at all by whoever knows its kind.</summary>
    public bool CanRead(string noun, KeptContent content)
    {
        try
        {
            return _byNoun.TryGetValue(noun, out var kind) && kind.ReferencesOf(content) is not null;
        }
        catch (FormatException)
        {
            return false;
        }
    }

    /// <summary>A content in a brand kit; null where that changes nothing, or it cannot be read.</summary>
    public KeptContent? Dress(string noun, KeptContent content, BrandKit kit)
    {
        try
        {
            return _byNoun.TryGetValue(noun, out var kind) ? kind.Dress(content, kit) : null;
        }
        catch (FormatException)
        {
            return null;
        }
    }
}
