using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Care;
using Outcry.Core.Evidence;
using Outcry.Server.Audience;
using Outcry.Server.Intake;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;
using Outcry.Store.Signals;

namespace Outcry.Server.Ledger;

/// <summary>A person as somebody names them: one of the three.</summary>
internal sealed record PersonRequest(string? Email = null, string? Phone = null, string? Name = null);

/// <summary>What is to be erased of what was found.</summary>
/// <param name="Events">Ids of events.</param>
/// <param name="Visitors">Ids of visitors.</param>
/// <param name="Deliveries">Ids of deliveries.</param>
/// <param name="FoundBy">By what they were found.</param>
internal sealed record EraseRequest(
    IReadOnlyList<Guid> Events,
    IReadOnlyList<string> Visitors,
    IReadOnlyList<Guid> Deliveries,
    string FoundBy
);

internal sealed record HeldVisitorView(string Id, Instant LastAt, IReadOnlyDictionary<string, string> Attributes);

internal sealed record HeldDeliveryView(Guid Id, Instant At, string Source);

/// <summary>Everything held on a person, masked.</summary>
/// <param name="More">Whether there is more than is listed; it is found once this is erased.</param>
internal sealed record HeldOnPerson(
    string FoundBy,
    IReadOnlyList<EventView> Events,
    IReadOnlyList<HeldVisitorView> Visitors,
    IReadOnlyList<HeldDeliveryView> Deliveries,
    bool More
);

/// <summary>The proof that stays when the data is gone.</summary>
internal sealed record ErasureView(
    Guid Id,
    Instant At,
    string By,
    string FoundBy,
    int Events,
    int Visitors,
    int Deliveries,
    string Digest
);

/// <summary>Finds everything held on one person, and erases it for good.</summary>
internal static class ErasePerson
{
    private const int MostFound = 500;

    public static async Task<Results<Ok<HeldOnPerson>, ProblemHttpResult>> FindAsync(
        Guid siteId,
        PersonRequest request,
        OutcryDb db,
        LiveSites sites,
        DeliveryLog log,
        IClock clock,
        CancellationToken stop
    )
    {
        var site = sites.GetById(siteId);
        var clues = PersonClues.Of(site.PersonKey, request.Email, request.Phone, site.Region);
        var name = PersonName.Shorten(request.Name, null);
        var (by, problem) = By(request, clues, name);
        if (by is null)
            return problem!;
        var ofSite = db.Events.Where(e => e.SiteId == siteId);
        var events = by switch
        {
            "e-mail" => ofSite.Where(e => e.PersonKey == clues.EmailKey),
            "phone" => ofSite.Where(e => e.PersonKey == clues.PhoneKey || e.PhoneKey == clues.PhoneKey),
            _ => NamedLike(db, siteId, request.Name!),
        };
        var rows = await events.AsNoTracking().OrderByDescending(e => e.At).Take(MostFound + 1).ToListAsync(stop);
        var more = rows.Count > MostFound;
        rows = [.. rows.Take(MostFound)];
        // The same browser may have done more than what carried the address.
        var browsers = by == "name" ? [] : rows.Select(r => r.VisitorId).OfType<string>().Distinct().ToList();
        var visitors = await db
            .Visitors.AsNoTracking()
            .Where(v => v.SiteId == siteId)
            .Where(v =>
                (clues.EmailKey != null && v.EmailKey == clues.EmailKey)
                || (clues.PhoneKey != null && v.PhoneKey == clues.PhoneKey)
                || browsers.Contains(v.VisitorId)
            )
            .Take(MostFound + 1)
            .ToListAsync(stop);
        more |= visitors.Count > MostFound;
        visitors = [.. visitors.Take(MostFound)];
        var deliveries = await DeliveriesAsync(db, siteId, request, rows, log, stop);
        var now = clock.GetCurrentInstant();
        var wording = new EventWording(site, now);
        return TypedResults.Ok(
            new HeldOnPerson(
                by,
                rows.ConvertAll(r => ListEvents.View(r, site, wording)),
                [
                    .. visitors.Select(v => new HeldVisitorView(v.VisitorId, v.LastAt, v.Attributes)),
                    .. await TalkersAsync(db, siteId, request, [.. visitors.Select(v => v.VisitorId)], stop),
                    .. await LeadsAsync(db, request, site.Region, stop),
                ],
                deliveries.ConvertAll(d => new HeldDeliveryView(
                    d.Id,
                    d.At,
                    site.Sources.GetValueOrDefault(d.SourceId)?.Name ?? ""
                )),
                more
            )
        );
    }

    // Whoever said yes to a prompt is kept whole; with one of their browsers they go.
    private static async Task<IEnumerable<HeldVisitorView>> LeadsAsync(
        OutcryDb db,
        PersonRequest request,
        string region,
        CancellationToken stop
    )
    {
        var (email, phone, name) = (
            AnswerSheet.EmailKey(request.Email?.Trim()) ?? "",
            PhoneNumber.ToE164(request.Phone, region) ?? "",
            request.Name?.Trim() ?? ""
        );
        var leads = await db
            .Leads.AsNoTracking()
            .Where(l =>
                (email != "" && l.EmailKey == email)
                || (phone != "" && l.Phone == phone)
                || (
                    name != ""
                    && EF.Functions.ILike(l.FirstName + " " + l.Surname, LikePattern.Literal(name), LikePattern.Escape)
                )
            )
            .OrderByDescending(l => l.ChangedAt)
            .Take(MostFound)
            .Select(l => new { l.Visitors, l.ChangedAt })
            .ToListAsync(stop);
        return leads
            .Where(l => l.Visitors.Count > 0)
            .Select(l => new HeldVisitorView(
                l.Visitors[0],
                l.ChangedAt,
                new Dictionary<string, string> { ["lead"] = "said yes" }
            ));
    }

    // Whoever talked gave their address or name there, and may have left no other trace.
    private static async Task<IEnumerable<HeldVisitorView>> TalkersAsync(
        OutcryDb db,
        Guid siteId,
        PersonRequest request,
        IReadOnlyList<string> known,
        CancellationToken stop
    )
    {
        var (email, name) = (request.Email?.Trim() ?? "", request.Name?.Trim() ?? "");
        var talks = await db
            .Talks.AsNoTracking()
            .Where(t => t.SiteId == siteId && !known.Contains(t.VisitorId))
            .Where(t =>
                (
                    email != ""
                    && t.Email != null
                    && EF.Functions.ILike(t.Email, LikePattern.Literal(email), LikePattern.Escape)
                ) || (name != "" && EF.Functions.ILike(t.Name, LikePattern.Literal(name), LikePattern.Escape))
            )
            .OrderByDescending(t => t.LastAt)
            .Take(MostFound)
            .Select(t => new { t.VisitorId, t.LastAt })
            .ToListAsync(stop);
        return talks
            .GroupBy(t => t.VisitorId)
            .Select(g => new HeldVisitorView(
                g.Key,
                g.Max(t => t.LastAt),
                new Dictionary<string, string> { ["talks"] = $"{g.Count()}" }
            ));
    }

    public static async Task<Results<Ok<ErasureView>, ProblemHttpResult>> EraseAsync(
        Guid siteId,
        EraseRequest request,
        OutcryDb db,
        SiteNews news,
        CensusTaker census,
        CurrentMember member,
        TraceBook traces,
        IClock clock,
        CancellationToken stop
    )
    {
        if (request.FoundBy is not ("e-mail" or "phone" or "name"))
            return Problems.BadField("foundBy", "Found by e-mail, phone or name.");
        if (request.Events.Count + request.Visitors.Count + request.Deliveries.Count is 0 or > 3 * MostFound)
            return Problems.BadField("events", "Choose what is to be erased.");
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        var browsers = await BrowsersOfAsync(db, siteId, request, stop);
        var proof = await EraseHeldAsync(db, siteId, request, member, clock.GetCurrentInstant(), stop);
        await ForgetTracesAsync(db, siteId, browsers, clock.GetCurrentInstant(), stop);
        traces.Add("erased", "a person", siteId);
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        census.Forget(siteId);
        await news.TellAsync(siteId, SiteChange.Erased);
        return TypedResults.Ok(View(proof));
    }

    private static async Task<List<string>> BrowsersOfAsync(
        OutcryDb db,
        Guid siteId,
        EraseRequest request,
        CancellationToken stop
    )
    {
        var browsers = await db
            .Events.Where(e => e.SiteId == siteId && request.Events.Contains(e.Id) && e.VisitorId != null)
            .Select(e => e.VisitorId!)
            .Distinct()
            .ToListAsync(stop);
        browsers.AddRange(request.Visitors);
        return browsers;
    }

    private static async Task<ErasureRow> EraseHeldAsync(
        OutcryDb db,
        Guid siteId,
        EraseRequest request,
        CurrentMember member,
        Instant now,
        CancellationToken stop
    )
    {
        var deliveries = db.Deliveries.Where(d =>
            d.SiteId == siteId
            && (request.Deliveries.Contains(d.Id) || (d.EventId != null && request.Events.Contains(d.EventId.Value)))
        );
        var proof = new ErasureRow
        {
            WorkspaceId = member.WorkspaceId,
            SiteId = siteId,
            At = now,
            By = member.Name,
            FoundBy = request.FoundBy,
            Deliveries = await deliveries.ExecuteDeleteAsync(stop),
            Visitors = await db
                .Visitors.Where(v => v.SiteId == siteId && request.Visitors.Contains(v.VisitorId))
                .ExecuteDeleteAsync(stop),
            Events = await EraseEventsAsync(db, siteId, request.Events, now, stop),
            Digest = DigestOf(request),
        };
        db.Erasures.Add(proof);
        await db.SaveChangesAsync(stop);
        return proof;
    }

    private static string DigestOf(EraseRequest request)
    {
        var ids = request
            .Events.Select(e => e.ToString())
            .Concat(request.Visitors)
            .Concat(request.Deliveries.Select(d => d.ToString()));
        return Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\n', ids.Order()))));
    }

    // Page views stay as counts of a random number; what tells one such visitor from another goes.
    private static async Task ForgetTracesAsync(
        OutcryDb db,
        Guid siteId,
        List<string> browsers,
        Instant now,
        CancellationToken stop
    )
    {
        // Rows that an import rejected may name the person in any spelling; they are a help for mending a file, and all go.
        await db
            .Rejects.Where(r => r.Original != "" && db.Imports.Any(i => i.Id == r.ImportId && i.SiteId == siteId))
            .ExecuteUpdateAsync(u => u.SetProperty(r => r.Original, ""), stop);
        await db.ForgetTraitsAsync(siteId, browsers, stop);
        await db.FormSends.Where(f => f.SiteId == siteId && browsers.Contains(f.VisitorId)).ExecuteDeleteAsync(stop);
        // With every word of them; mails that are on their way name who wrote.
        var talks = db.Talks.Where(t => t.SiteId == siteId && browsers.Contains(t.VisitorId));
        var ids = await talks.Select(t => t.Id.ToString()).ToListAsync(stop);
        await db
            .Letters.Where(l => l.SiteId == siteId && ids.Any(id => EF.Functions.Like(l.About, id + "%")))
            .ExecuteDeleteAsync(stop);
        await talks.ExecuteDeleteAsync(stop);
        var leads = await db
            .Leads.Where(l => l.Visitors.Any(v => browsers.Contains(v)))
            .Select(l => new
            {
                l.Id,
                l.Email,
                l.Phone,
            })
            .ToListAsync(stop);
        var gone = leads.ConvertAll(l => l.Id);
        var addresses = leads.SelectMany(l => new[] { l.Email, l.Phone }).OfType<string>().ToList();
        await db.Letters.Where(l => l.SiteId == siteId && addresses.Contains(l.To)).ExecuteDeleteAsync(stop);
        await db.ForgetLettersAsync(gone, now, stop);
        await db.Leads.Where(l => gone.Contains(l.Id)).ExecuteDeleteAsync(stop);
    }

    public static async Task<Ok<List<ErasureView>>> ListAsync(Guid siteId, OutcryDb db, CancellationToken stop)
    {
        var rows = await db
            .Erasures.AsNoTracking()
            .Where(e => e.SiteId == siteId)
            .OrderByDescending(e => e.At)
            .Take(100)
            .ToListAsync(stop);
        return TypedResults.Ok(rows.ConvertAll(View));
    }

    private static async Task<int> EraseEventsAsync(
        OutcryDb db,
        Guid siteId,
        IReadOnlyList<Guid> events,
        Instant now,
        CancellationToken stop
    )
    {
        // What came from a list or a file must not come back with its next reading.
        var key = await db.Sites.Where(s => s.Id == siteId).Select(s => s.PersonKey).FirstAsync(stop);
        var gone = await db
            .Events.AsNoTracking()
            .Where(e => e.SiteId == siteId && events.Contains(e.Id))
            .ToListAsync(stop);
        Tombstones.Set(db, key, gone, now);
        var own = db.Events.Where(e => e.SiteId == siteId && events.Contains(e.Id));
        await db.Corrections.Where(c => own.Any(e => e.Id == c.EventId)).ExecuteDeleteAsync(stop);
        // A mail about it that no server has taken yet names them as well.
        await db
            .Letters.Where(l => l.SiteId == siteId && own.Any(e => e.ExternalId == l.About))
            .ExecuteDeleteAsync(stop);
        return await own.ExecuteDeleteAsync(stop);
    }

    // However the name was divided when it came: "Anne-Marie von der Heide" is kept as "Anne-Marie" and V, where her last
    // name had a field of its own, and as "Anne-Marie von der" and H where it had not. A whole name entered by hand stands in
    // a field. Of a surname one letter is kept, so more people than one may be found; a member chooses.
    private static IQueryable<EventRow> NamedLike(OutcryDb db, Guid siteId, string name)
    {
        var words = PlainText
            .Clean(name)
            .ToLowerInvariant()
            .Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);
        var whole = string.Join(' ', words);
        string[] parted =
        [
            .. Enumerable
                .Range(1, words.Length - 1)
                .SelectMany(given =>
                    words
                        .Skip(given)
                        .Select(last => PersonName.Shorten("x", last).LastInitial.ToLowerInvariant())
                        .Append("")
                        .Select(initial => $"{string.Join(' ', words.Take(given))}|{initial}")
                ),
        ];
        var within = $"%{LikePattern.Literal(whole)}%";
        return db.Events.FromSql(
            $"""
            select * from events
            where site_id = {siteId}
              and (lower(first_name) = {whole}
                or lower(first_name) || '|' || lower(last_initial) = any({parted})
                or fields::text ilike {within} escape '\')
            """
        );
    }

    private static (string? By, ProblemHttpResult? Problem) By(
        PersonRequest request,
        PersonClues clues,
        PersonName name
    ) =>
        clues.EmailKey is not null ? ("e-mail", null)
        : clues.PhoneKey is not null ? ("phone", null)
        : !name.IsUnknown ? ("name", null)
        : (
            null,
            Problems.BadField(
                request.Email is not null ? "email"
                    : request.Phone is not null ? "phone"
                    : "name",
                "Write a whole e-mail address, a phone number of at least five digits, or a name."
            )
        );

    // Deliveries are sealed, so each is opened and looked into; there are few of them.
    private static async Task<List<DeliveryRow>> DeliveriesAsync(
        OutcryDb db,
        Guid siteId,
        PersonRequest request,
        List<EventRow> events,
        DeliveryLog log,
        CancellationToken stop
    )
    {
        var ids = events.Select(e => e.Id).ToHashSet();
        var rows = await db.Deliveries.AsNoTracking().Where(d => d.SiteId == siteId).ToListAsync(stop);
        return rows.FindAll(d =>
            (d.EventId is { } id && ids.Contains(id))
            || (log.Open(d) is { Length: > 0 } body && Names(TextOf(body), request))
        );
    }

    // Senders may write letters as escapes; what is searched is what they mean.
    private static string TextOf(byte[] body)
    {
        try
        {
            return JsonSerializer.Serialize(JsonGate.Parse(body), Readable);
        }
        catch (JsonException)
        {
            return Encoding.UTF8.GetString(body);
        }
    }

    private static readonly JsonSerializerOptions Readable = new()
    {
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    /// <summary>Digits at the end of a phone number by which it is found, however its beginning is written.</summary>
    private const int TellingDigits = 7;

    private static bool Names(string body, PersonRequest request)
    {
        if (request.Email?.Trim() is { Length: > 0 } email)
            return body.Contains(email, StringComparison.OrdinalIgnoreCase);
        if (request.Phone is { Length: > 0 } phone)
        {
            var digits = new string([.. phone.Where(char.IsAsciiDigit)]);
            return digits.Length > 0
                && new string([.. body.Where(char.IsAsciiDigit)]).Contains(
                    digits[Math.Max(0, digits.Length - TellingDigits)..],
                    StringComparison.Ordinal
                );
        }
        var words = (request.Name ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);
        return words.Length > 0 && words.All(w => body.Contains(w, StringComparison.OrdinalIgnoreCase));
    }

    private static ErasureView View(ErasureRow e) =>
        new(e.Id, e.At, e.By, e.FoundBy, e.Events, e.Visitors, e.Deliveries, e.Digest);
}
