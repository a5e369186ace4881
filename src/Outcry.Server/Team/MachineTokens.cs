using System.Security.Cryptography;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Server.Platform;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Team;

internal sealed record TokenRequest(string Name, IReadOnlyList<TokenScope> Scopes);

/// <param name="Begins">Its first letters, to tell it from others.</param>
internal sealed record TokenView(
    Guid Id,
    string Name,
    IReadOnlyList<TokenScope> Scopes,
    string Begins,
    string MadeBy,
    Instant MadeAt,
    Instant? UsedAt
);

/// <param name="Token">The token itself. It is shown this once; only its hash is kept.</param>
internal sealed record MadeTokenView(string Token, TokenView View);

/// <summary>Keys for machines: named, with scopes, shown once, ended at any time.</summary>
internal static class MachineTokens
{
    private const int Most = 50;
    private const int LongestName = 60;
    private const string Prefix = "outcry_";

    public static async Task<Ok<List<TokenView>>> ListAsync(Guid workspaceId, OutcryDb db, CancellationToken stop) =>
        TypedResults.Ok(
            (
                await db.Tokens.AsNoTracking().Where(t => t.EndedAt == null).OrderBy(t => t.MadeAt).ToListAsync(stop)
            ).ConvertAll(View)
        );

    public static async Task<Results<Ok<MadeTokenView>, ProblemHttpResult>> MakeAsync(
        Guid workspaceId,
        TokenRequest request,
        OutcryDb db,
        CurrentMember current,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        var name = request.Name.Trim();
        if (name.Length is 0 or > LongestName)
            return Problems.BadField("name", $"Say in 1 to {LongestName} characters what it is for.");
        if (request.Scopes.Count == 0)
            return Problems.BadField("scopes", "Choose at least one thing that it opens.");
        if (await db.Tokens.CountAsync(t => t.EndedAt == null, stop) >= Most)
            return Problems.BadField("name", $"A workspace has at most {Most} tokens. End one first.");
        var token = $"{Prefix}{Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24))}";
        var row = new TokenRow
        {
            WorkspaceId = workspaceId,
            Name = name,
            Scopes = [.. request.Scopes.Distinct().Order()],
            Hash = TokenDoor.Hash(token),
            Begins = token[..(Prefix.Length + 4)],
            MadeBy = current.Name,
            MadeAt = clock.GetCurrentInstant(),
        };
        db.Tokens.Add(row);
        traces.Add(
            "made the token",
            name,
            changes: [new TracedChange("opens", "", string.Join(", ", row.Scopes).ToLowerInvariant())]
        );
        await db.SaveChangesAsync(stop);
        return TypedResults.Ok(new MadeTokenView(token, View(row)));
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> EndAsync(
        Guid workspaceId,
        Guid tokenId,
        OutcryDb db,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        if (await db.Tokens.FirstOrDefaultAsync(t => t.Id == tokenId && t.EndedAt == null, stop) is not { } row)
            return Problems.NotFound("token");
        row.EndedAt = clock.GetCurrentInstant();
        traces.Add("ended the token", row.Name);
        await db.SaveChangesAsync(stop);
        return TypedResults.NoContent();
    }

    private static TokenView View(TokenRow row) =>
        new(row.Id, row.Name, row.Scopes, row.Begins, row.MadeBy, row.MadeAt, row.UsedAt);
}
