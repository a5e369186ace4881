using System.Security.Claims;
using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Store.Rows;

namespace Outcry.Server.Platform;

/// <summary>Lets machines in by their token ("Authorization: Bearer …", RFC 6750); a cookie that comes along counts for nothing.</summary>
internal sealed class TokenDoor(RequestDelegate next, SystemDb database, IClock clock)
{
    private const string Scheme = "Bearer ";
    private static readonly Duration Noted = Duration.FromMinutes(1);

    public async Task InvokeAsync(HttpContext http)
    {
        var given = http.Request.Headers.Authorization.ToString();
        if (!given.StartsWith(Scheme, StringComparison.OrdinalIgnoreCase))
        {
            await next(http);
            return;
        }
        if (await FindAsync(given[Scheme.Length..].Trim(), http.RequestAborted) is not { } token)
        {
            http.Response.Headers.WWWAuthenticate = "Bearer error=\"invalid_token\"";
            await Problems
                .Of(
                    StatusCodes.Status401Unauthorized,
                    "token",
                    "This token opens nothing",
                    "It was ended, or never was one. An owner makes tokens under Team."
                )
                .ExecuteAsync(http);
            return;
        }
        http.Items[typeof(TokenRow)] = token;
        http.User = new ClaimsPrincipal(new ClaimsIdentity([], "token"));
        await next(http);
    }

    /// <summary>What is kept of a secret that was given out: nobody can make the secret from it.</summary>
    public static byte[] Hash(string secret) => SHA256.HashData(Encoding.UTF8.GetBytes(secret));

    private async Task<TokenRow?> FindAsync(string given, CancellationToken stop)
    {
        await using var db = database.Open();
        var hash = Hash(given);
        var token = await db.Tokens.AsNoTracking().FirstOrDefaultAsync(t => t.Hash == hash && t.EndedAt == null, stop);
        var now = clock.GetCurrentInstant();
        if (token is not null && (token.UsedAt is not { } used || now - used >= Noted))
            await db
                .Tokens.Where(t => t.Id == token.Id)
                .ExecuteUpdateAsync(t => t.SetProperty(x => x.UsedAt, now), stop);
        return token;
    }
}
