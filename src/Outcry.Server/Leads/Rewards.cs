using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Care;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Leads;

/// <summary>A pool of codes.</summary>
/// <param name="Left">Codes that nobody has yet.</param>
/// <param name="Given">Codes that were given.</param>
internal sealed record CodePoolView(Guid Id, string Name, int Left, int Given, string ChangedBy, Instant ChangedAt);

internal sealed record RewardFileView(Guid Id, string Name, int Bytes, string AddedBy, Instant AddedAt);

/// <summary>Everything that can be given for a yes on a site.</summary>
internal sealed record RewardsView(IReadOnlyList<CodePoolView> Pools, IReadOnlyList<RewardFileView> Files);

/// <param name="Name">How it is called, at most 80 characters.</param>
/// <param name="Codes">A CSV whose first column has the codes, or one on each line; at most 50,000.</param>
internal sealed record CodePoolRequest(string Name, string Codes);

/// <param name="Added">Codes that were not there yet.</param>
/// <param name="Known">Codes that stood in a pool of this name already, or twice in the file.</param>
internal sealed record CodesAddedView(CodePoolView Pool, int Added, int Known);

/// <summary>What is given for a yes: pools of codes, and files.</summary>
internal static class Rewards
{
    private const int MostPools = 100;
    private const int MostCodes = 50_000;
    private const int LongestCode = 40;
    private const int LongestName = 80;
    private const int MostFiles = 50;
    private const int MostFileBytes = 20 * 1024 * 1024;

    public static async Task<Ok<RewardsView>> ListAsync(Guid siteId, OutcryDb db, CancellationToken stop)
    {
        var pools = await db
            .CodePools.AsNoTracking()
            .Where(p => p.SiteId == siteId)
            .OrderBy(p => p.Name)
            .ToListAsync(stop);
        var ids = pools.ConvertAll(p => p.Id);
        var counts = await db
            .Codes.Where(c => ids.Contains(c.PoolId))
            .GroupBy(c => c.PoolId)
            .Select(g => new
            {
                g.Key,
                Left = g.Count(c => c.YesId == null),
                All = g.Count(),
            })
            .ToDictionaryAsync(g => g.Key, stop);
        return TypedResults.Ok(
            new RewardsView(
                pools.ConvertAll(p =>
                {
                    var count = counts.GetValueOrDefault(p.Id);
                    return View(p, count?.Left ?? 0, (count?.All ?? 0) - (count?.Left ?? 0));
                }),
                await db
                    .RewardFiles.Where(f => f.SiteId == siteId)
                    .OrderByDescending(f => f.AddedAt)
                    .Select(f => new RewardFileView(f.Id, f.Name, f.Bytes.Length, f.AddedBy, f.AddedAt))
                    .ToListAsync(stop)
            )
        );
    }

    private static CodePoolView View(CodePoolRow row, int left, int given) =>
        new(row.Id, row.Name, left, given, row.ChangedBy, row.ChangedAt);

    /// <summary>Makes a pool, or adds codes to the one of that name. What stands there already is passed over; nothing is half added.</summary>
    public static async Task<Results<Ok<CodesAddedView>, ProblemHttpResult>> AddCodesAsync(
        Guid siteId,
        CodePoolRequest request,
        OutcryDb db,
        LiveSites sites,
        SiteNews news,
        CurrentMember member,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        if (PlainText.OrNull(request.Name) is not { Length: <= LongestName } name)
            return Problems.BadField("name", $"A pool's name has 1 to {LongestName} characters.");
        var (codes, problem) = ReadCodes(request.Codes);
        if (codes is null)
            return problem!;
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        // One at a time on a site: of two files at once no code comes in twice.
        await db.Database.ExecuteSqlAsync($"select 1 from sites where id = {siteId} for update", stop);
        var pool = await db.CodePools.AsTracking().FirstOrDefaultAsync(p => p.SiteId == siteId && p.Name == name, stop);
        if (pool is null)
        {
            if (await db.CodePools.CountAsync(p => p.SiteId == siteId, stop) >= MostPools)
                return Problems.BadField("name", $"A site has at most {MostPools} pools.");
            pool = new CodePoolRow
            {
                WorkspaceId = member.WorkspaceId,
                SiteId = siteId,
                Name = name,
                ChangedBy = member.Name,
            };
            db.CodePools.Add(pool);
        }
        (pool.ChangedBy, pool.ChangedAt, pool.WarnedAt) = (member.Name, clock.GetCurrentInstant(), null);
        var known = (await db.Codes.Where(c => c.PoolId == pool.Id).Select(c => c.Code).ToListAsync(stop)).ToHashSet(
            StringComparer.Ordinal
        );
        var fresh = codes.Distinct().Where(c => !known.Contains(c)).ToList();
        if (known.Count + fresh.Count > MostCodes)
            return Problems.BadField("codes", $"A pool has at most {MostCodes} codes.");
        db.Codes.AddRange(
            fresh.Select(c => new CodeRow
            {
                PoolId = pool.Id,
                WorkspaceId = member.WorkspaceId,
                Code = c,
            })
        );
        traces.Add(
            "added codes",
            name,
            siteId,
            [new TracedChange("codes", $"{known.Count}", $"{known.Count + fresh.Count}")]
        );
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        // The other nodes read pools anew with the site.
        sites.GetById(siteId).EmptyPools.TryRemove(pool.Id, out _);
        await news.TellAsync(siteId, SiteChange.Definition);
        var left = await db.Codes.CountAsync(c => c.PoolId == pool.Id && c.YesId == null, stop);
        return TypedResults.Ok(
            new CodesAddedView(
                View(pool, left, known.Count + fresh.Count - left),
                fresh.Count,
                codes.Count - fresh.Count
            )
        );
    }

    private static (List<string>? Codes, ProblemHttpResult? Problem) ReadCodes(string text)
    {
        using var csv = new CsvReader(
            new StringReader(text),
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                HasHeaderRecord = false,
                DetectDelimiter = false,
                BadDataFound = null,
                TrimOptions = TrimOptions.Trim,
            }
        );
        var codes = new List<string>();
        for (var line = 1; csv.Read(); line++)
        {
            if (PlainText.OrNull(csv.GetField(0)) is not { } code)
                continue;
            // Of a file with a heading the first line is no code.
            if (line == 1 && code.Equals("code", StringComparison.OrdinalIgnoreCase))
                continue;
            if (code.Length > LongestCode)
                return (null, Problems.BadField("codes", $"Line {line}: a code has at most {LongestCode} characters."));
            codes.Add(code);
            if (codes.Count > MostCodes)
                return (null, Problems.BadField("codes", $"At most {MostCodes} codes at once."));
        }
        return codes.Count > 0
            ? (codes, null)
            : (
                null,
                Problems.BadField(
                    "codes",
                    "There is no code in it. Give one on each line, or a CSV with codes in its first column."
                )
            );
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> RemovePoolAsync(
        Guid siteId,
        Guid poolId,
        OutcryDb db,
        DefinitionsInUse inUse,
        TraceBook traces,
        CancellationToken stop
    )
    {
        var pool = await db.CodePools.AsTracking().FirstOrDefaultAsync(p => p.Id == poolId && p.SiteId == siteId, stop);
        if (pool is null)
            return Problems.NotFound("pool");
        if (await UsedByAsync(inUse, siteId, poolId, stop) is { } used)
            return used;
        db.CodePools.Remove(pool);
        traces.Add("removed the pool of codes", pool.Name, siteId);
        await db.SaveChangesAsync(stop);
        return TypedResults.NoContent();
    }

    private static async Task<ProblemHttpResult?> UsedByAsync(
        DefinitionsInUse inUse,
        Guid siteId,
        Guid id,
        CancellationToken stop
    )
    {
        var names = (await inUse.ReadAsync(siteId, stop))
            .Where(d => d.References.Rewards.Contains(id))
            .Select(d => d.Name)
            .Distinct()
            .ToList();
        return names.Count == 0
            ? null
            : Problems.Of(
                StatusCodes.Status409Conflict,
                "in-use",
                "It is in use",
                $"It is given by {string.Join(", ", names)}. Take it out there first."
            );
    }

    /// <summary>The file is the body of the request; its name stands in the query.</summary>
    public static async Task<Results<Ok<RewardFileView>, ProblemHttpResult>> AddFileAsync(
        Guid siteId,
        HttpRequest request,
        OutcryDb db,
        CurrentMember member,
        TraceBook traces,
        IClock clock,
        CancellationToken stop,
        string? name = null
    )
    {
        if (request.HttpContext.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
            limit.MaxRequestBodySize = MostFileBytes + 1;
        if (await BodyLimits.TryReadAsync(request, MostFileBytes, stop) is not { } bytes)
            return Problems.TooLarge(MostFileBytes);
        if (bytes.Length == 0)
            return Problems.BadField("file", "The file is empty.");
        if (await db.RewardFiles.CountAsync(f => f.SiteId == siteId, stop) >= MostFiles)
            return Problems.BadField("file", $"A site keeps at most {MostFiles} files.");
        var row = new RewardFileRow
        {
            WorkspaceId = member.WorkspaceId,
            SiteId = siteId,
            Name = PlainText.Clip(PlainText.OrNull(name)?.Replace('/', '-').Replace('\\', '-') ?? "file", LongestName),
            MediaType = bytes.AsSpan().StartsWith("%PDF-"u8) ? "application/pdf" : "application/octet-stream",
            Bytes = bytes,
            AddedBy = member.Name,
            AddedAt = clock.GetCurrentInstant(),
        };
        db.RewardFiles.Add(row);
        traces.Add("added the file", row.Name, siteId);
        await db.SaveChangesAsync(stop);
        return TypedResults.Ok(new RewardFileView(row.Id, row.Name, bytes.Length, row.AddedBy, row.AddedAt));
    }

    public static async Task<Results<NoContent, ProblemHttpResult>> RemoveFileAsync(
        Guid siteId,
        Guid fileId,
        OutcryDb db,
        DefinitionsInUse inUse,
        TraceBook traces,
        CancellationToken stop
    )
    {
        var name = await db
            .RewardFiles.Where(f => f.Id == fileId && f.SiteId == siteId)
            .Select(f => f.Name)
            .FirstOrDefaultAsync(stop);
        if (name is null)
            return Problems.NotFound("file");
        if (await UsedByAsync(inUse, siteId, fileId, stop) is { } used)
            return used;
        await db.RewardFiles.Where(f => f.Id == fileId).ExecuteDeleteAsync(stop);
        traces.Add("removed the file", name, siteId);
        await db.SaveChangesAsync(stop);
        return TypedResults.NoContent();
    }
}
