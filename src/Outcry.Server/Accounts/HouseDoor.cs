using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Outcry.Server.Platform;

namespace Outcry.Server.Accounts;

/// <summary>
/// The door of an empty house: its first workspace is made by whoever holds the key that the start printed; later ones by
/// strangers only where the setting "Registration:Open" says so.
/// </summary>
internal sealed partial class HouseDoor(SystemDb database, IConfiguration configuration, ILogger<HouseDoor> log)
    : IBeforeReady
{
    // Without letters and digits that look alike.
    private const string Letters = "abcdefghjkmnpqrstuvwxyz23456789";
    private volatile bool _hasMembers;

    /// <summary>The one-time key: the setting "Opening:Key", or made anew with each start.</summary>
    private readonly string _key = configuration["Opening:Key"] is { Length: > 0 } set
        ? set
        : string.Join('-', Enumerable.Range(0, 4).Select(_ => RandomNumberGenerator.GetString(Letters, 5)));

    public bool MayRegister { get; } = configuration.GetValue("Registration:Open", false);

    /// <summary>Whether nobody has an account yet.</summary>
    public async Task<bool> IsEmptyAsync(CancellationToken stop)
    {
        // Once somebody has, somebody always has.
        if (_hasMembers)
            return false;
        await using var db = database.Open();
        return !(_hasMembers = await db.Users.AnyAsync(stop));
    }

    public bool Opens(string key) =>
        CryptographicOperations.FixedTimeEquals(
            SHA256.HashData(Encoding.UTF8.GetBytes(key.Trim().ToLowerInvariant())),
            SHA256.HashData(Encoding.UTF8.GetBytes(_key.ToLowerInvariant()))
        );

    /// <summary>Tells whoever started it the key, where one is needed.</summary>
    public async Task PrepareAsync(CancellationToken stop)
    {
        if (await IsEmptyAsync(stop))
            KeyIs(_key);
    }

    [LoggerMessage(1510, LogLevel.Warning, "Nobody has an account yet. Open the desk and use this key: {Key}")]
    private partial void KeyIs(string key);
}
