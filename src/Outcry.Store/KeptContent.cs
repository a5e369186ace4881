using System.Text.Json;
using System.Text.Json.Nodes;

namespace Outcry.Store;

/// <summary>What is kept of something is damaged.</summary>
public sealed class UnreadableContentException(string message, Exception? inner = null)
    : FormatException(message, inner);

/// <summary>A content kept as JSON, whose shape only its kind knows.</summary>
/// <param name="json">The JSON, as <see cref="JsonColumn.Options"/> spells it.</param>
public sealed class KeptContent(string json) : IEquatable<KeptContent>
{
    // A part that is not there is never null further in: what lacks one cannot be read.
    private static readonly JsonSerializerOptions Whole = new(JsonColumn.Options)
    {
        RespectNullableAnnotations = true,
        RespectRequiredConstructorParameters = true,
    };

    private object? _read;

    /// <summary>The JSON.</summary>
    public string Json { get; } = json;

    /// <summary>Keeps a content.</summary>
    public static KeptContent Of<T>(T content)
        where T : class => new(JsonSerializer.Serialize(content, JsonColumn.Options)) { _read = content };

    /// <summary>The JSON as a tree, for what looks at it without knowing its kind; null where it is none.</summary>
    public JsonNode? ToNode()
    {
        try
        {
            return JsonNode.Parse(Json);
        }
        catch (JsonException)
        {
            return null;
        }
    }

    /// <summary>The content; read once.</summary>
    /// <exception cref="UnreadableContentException">It is not such a content.</exception>
    public T Read<T>()
        where T : class
    {
        if (_read is T known)
            return known;
        try
        {
            var read =
                JsonSerializer.Deserialize<T>(Json, Whole)
                ?? throw new UnreadableContentException("What is kept of it is empty.");
            _read = read;
            return read;
        }
        catch (Exception failure) when (failure is JsonException or NotSupportedException)
        {
            throw new UnreadableContentException("What is kept of it cannot be read.", failure);
        }
    }

    /// <summary>The content; null where it is not such a content.</summary>
    public T? TryRead<T>()
        where T : class
    {
        try
        {
            return Read<T>();
        }
        catch (UnreadableContentException)
        {
            return null;
        }
    }

    public bool Equals(KeptContent? other) => other is not null && other.Json == Json;

    public override bool Equals(object? obj) => Equals(obj as KeptContent);

    public override int GetHashCode() => Json.GetHashCode(StringComparison.Ordinal);
}
