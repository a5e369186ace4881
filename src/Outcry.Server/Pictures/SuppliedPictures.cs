using System.Text.Json;

namespace Outcry.Server.Pictures;

/// <summary>A picture of the supplied set.</summary>
/// <param name="Words">What it is found by, its name among them.</param>
internal sealed record SuppliedPicture(string Name, string File, IReadOnlyList<string> Words, bool IsMoving);

/// <summary>The pictures that ship with the desk.</summary>
internal sealed class SuppliedPictures(IWebHostEnvironment environment)
{
    /// <summary>Width and height, in CSS pixels.</summary>
    public const int Side = 88;

    private readonly Lazy<IReadOnlyList<SuppliedPicture>> _all = new(() =>
    {
        var index = environment.WebRootFileProvider.GetFileInfo("pictures/index.json");
        if (!index.Exists)
            return [];
        using var stream = index.CreateReadStream();
        return JsonSerializer.Deserialize<List<SuppliedPicture>>(stream, JsonSerializerOptions.Web) ?? [];
    });

    public IReadOnlyList<SuppliedPicture> All => _all.Value;
}
