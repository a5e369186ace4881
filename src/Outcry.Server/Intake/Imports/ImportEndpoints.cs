using System.Globalization;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Core.Saying;
using Outcry.Core.Sources;
using Outcry.Server.Intake.Desk;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Intake.Imports;

/// <summary>A file that was brought, with its columns.</summary>
/// <param name="Encoding">How its letters are written: UTF-8, UTF-16 or Windows-1252.</param>
internal sealed record UploadView(
    Guid Id,
    string FileName,
    long Bytes,
    FileShape Shape,
    string Encoding,
    IReadOnlyList<JsonPlace> Columns
);

internal sealed record ImportPreviewRequest(EventKind EventKind, EventMap? Map = null);

internal sealed record BeginImportRequest(Guid Upload, Guid Source, EventMap Map, bool DryRun, int? Newest = null);

internal sealed record ImportView(
    Guid Id,
    Guid SourceId,
    string FileName,
    string StartedBy,
    Instant StartedAt,
    Instant? EndedAt,
    ImportState State,
    bool IsDryRun,
    int Read,
    int Added,
    int Repeated,
    int Held,
    int LeftOut,
    int Rejected,
    string? Because
);

/// <summary>Files read into the ledger: brought, looked at, tried, imported, reported on.</summary>
internal static class ImportEndpoints
{
    private const int ListedImports = 20;

    public static void MapImports(this RouteGroupBuilder api)
    {
        var uploads = api.MapGroup("/sites/{siteId:guid}/uploads").WithTags("Imports");
        uploads
            .MapPost("", UploadAsync)
            .For(Right.Connect)
            .WithName("UploadFile")
            .WithDescription("The body is the file itself: CSV with a heading line, or one JSON object a line.");
        uploads.MapPost("/{uploadId:guid}/preview", Preview).For(Right.Connect).WithName("PreviewImport");
        var imports = api.MapGroup("/sites/{siteId:guid}/imports").WithTags("Imports");
        imports.MapPost("", BeginAsync).For(Right.Connect).WithName("BeginImport");
        imports.MapGet("", ListAsync).WithName("ListImports");
        imports.MapPost("/{importId:guid}/cancel", Cancel).For(Right.Connect).WithName("CancelImport");
        imports
            .MapGet("/{importId:guid}/rejects.csv", RejectsAsync)
            .WithName("GetRejects")
            .Produces(200, contentType: "text/csv");
    }

    private static async Task<Results<Ok<UploadView>, ProblemHttpResult>> UploadAsync(
        Guid siteId,
        string name,
        HttpRequest request,
        UploadStore uploads,
        CancellationToken stop
    )
    {
        if (request.HttpContext.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
            limit.MaxRequestBodySize = UploadStore.MostBytes + 1;
        var file = PlainText.Clean(Path.GetFileName(name));
        var upload = await uploads.KeepAsync(siteId, file.Length is 0 or > 120 ? "file" : file, request.Body, stop);
        if (upload is null)
            return Problems.Of(
                StatusCodes.Status413PayloadTooLarge,
                "too-large",
                "The file is too large",
                $"At most {UploadStore.MostBytes / 1024 / 1024} MB. Split it, and import the parts one after another."
            );
        IReadOnlyList<JsonPlace> columns;
        try
        {
            columns = ImportFile.Columns(upload.Path, upload.Shape);
        }
        catch (CsvHelper.CsvHelperException)
        {
            columns = [];
        }
        if (columns.Count == 0)
        {
            uploads.Forget(upload.Id);
            return Problems.BadField(
                "file",
                "This file has no heading line and no JSON object in its first line. Bring CSV with headings, or one JSON object a line (no list in brackets)."
            );
        }
        return TypedResults.Ok(
            new UploadView(
                upload.Id,
                upload.FileName,
                upload.Bytes,
                upload.Shape,
                FileEncoding.Of(upload.Path).Name,
                columns
            )
        );
    }

    private static Results<Ok<PreviewView>, ProblemHttpResult> Preview(
        Guid siteId,
        Guid uploadId,
        ImportPreviewRequest request,
        UploadStore uploads,
        LiveSites sites,
        IClock clock
    )
    {
        if (uploads.Find(siteId, uploadId) is not { } upload)
            return Gone();
        var columns = ImportFile.Columns(upload.Path, upload.Shape);
        var map = (request.Map ?? MapGuess.Guess(request.EventKind, [.. columns.Select(c => c.Pointer)])) with
        {
            Kind = request.EventKind,
        };
        // What the numbers of a column show is offered; what a person chose stands.
        map = map with
        {
            Dates = map.Dates ?? ImportFile.DatesOf(upload.Path, upload.Shape, map.PlaceOf(FieldMeaning.Time)),
        };
        var site = sites.GetById(siteId);
        var display = DisplayPolicy.For(request.EventKind);
        var now = clock.GetCurrentInstant();
        var rows = ImportFile.Rows(upload.Path, upload.Shape).Take(8).ToList();
        return TypedResults.Ok(
            new PreviewView(
                columns,
                EventMap.Offered(request.EventKind),
                map,
                map.Fault(),
                rows.Count,
                [
                    .. rows.Select(r =>
                        r.Item is { } item
                            ? PreviewMap.EventOf(item, map, display, site, now)
                            : new PreviewEventView([], null, null, r.Fault, "")
                    ),
                ],
                null
            )
        );
    }

    private static async Task<Results<Accepted<ImportView>, ProblemHttpResult>> BeginAsync(
        Guid siteId,
        BeginImportRequest request,
        OutcryDb db,
        UploadStore uploads,
        ImportRunner runner,
        CurrentMember member,
        TraceBook traces,
        CancellationToken stop
    )
    {
        if (uploads.Find(siteId, request.Upload) is not { } upload)
            return Gone();
        var source = await db.Sources.FirstOrDefaultAsync(
            s => s.Id == request.Source && s.SiteId == siteId && s.DeletedAt == null,
            stop
        );
        if (source is null)
            return Problems.BadField("source", "Choose the source that these events belong to.");
        if (source.PausedAt is not null)
            return Problems.BadField("source", EventRecorder.PausedSentence);
        if (request.Newest is < 1)
            return Problems.BadField("newest", "At least the newest 1, or all.");
        var map = request.Map with { Kind = source.EventKind };
        if (map.Fault() is { } fault)
            return Problems.BadField("map", fault);
        var row = await runner.BeginAsync(
            new ImportOrder(upload, source, map, request.Newest, request.DryRun, member.Name),
            stop
        );
        if (!request.DryRun)
        {
            traces.Add("began an import into", source.Name, siteId);
            await db.SaveChangesAsync(stop);
        }
        return TypedResults.Accepted($"/api/sites/{siteId}/imports", View(row));
    }

    private static async Task<Ok<List<ImportView>>> ListAsync(Guid siteId, OutcryDb db, CancellationToken stop)
    {
        var rows = await db
            .Imports.AsNoTracking()
            .Where(i => i.SiteId == siteId)
            .OrderByDescending(i => i.StartedAt)
            .Take(ListedImports)
            .ToListAsync(stop);
        return TypedResults.Ok(rows.ConvertAll(View));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Cancel(
        Guid siteId,
        Guid importId,
        OutcryDb db,
        ImportRunner runner,
        CancellationToken stop
    ) =>
        await db.Imports.AnyAsync(i => i.Id == importId && i.SiteId == siteId, stop) && runner.Cancel(importId)
            ? TypedResults.NoContent()
            : Problems.NotFound("running import");

    private static async Task<Results<PushStreamHttpResult, ProblemHttpResult>> RejectsAsync(
        Guid siteId,
        Guid importId,
        OutcryDb db,
        CancellationToken stop
    )
    {
        if (!await db.Imports.AnyAsync(i => i.Id == importId && i.SiteId == siteId, stop))
            return Problems.NotFound("import");
        return TypedResults.Stream(
            async body =>
            {
                await using var writer = new StreamWriter(body, leaveOpen: true);
                await using var csv = new CsvHelper.CsvWriter(writer, CsvSafe.Settings);
                csv.WriteField("row");
                csv.WriteField("column");
                csv.WriteField("reason");
                csv.WriteField("original");
                await csv.NextRecordAsync();
                var rows = db.Rejects.AsNoTracking().Where(r => r.ImportId == importId).OrderBy(r => r.Row);
                await foreach (var reject in rows.AsAsyncEnumerable().WithCancellation(stop))
                {
                    csv.WriteField(reject.Row.ToString(CultureInfo.InvariantCulture));
                    csv.WriteField(reject.Field);
                    csv.WriteField(reject.Because);
                    csv.WriteField(reject.Original);
                    await csv.NextRecordAsync();
                }
            },
            "text/csv; charset=utf-8",
            "rejected-rows.csv"
        );
    }

    private static ProblemHttpResult Gone() =>
        Problems.Of(
            StatusCodes.Status404NotFound,
            "upload-gone",
            "The file is no longer here",
            "Files are kept for an hour. Choose it again."
        );

    private static ImportView View(ImportRow i) =>
        new(
            i.Id,
            i.SourceId,
            i.FileName,
            i.StartedBy,
            i.StartedAt,
            i.EndedAt,
            i.State,
            i.IsDryRun,
            i.Read,
            i.Added,
            i.Repeated,
            i.Held,
            i.LeftOut,
            i.Rejected,
            i.Because
        );
}
