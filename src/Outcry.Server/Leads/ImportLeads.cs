using System.Security.Cryptography;
using System.Text;
using CsvHelper;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Asking;
using Outcry.Core.Care;
using Outcry.Server.Intake.Polls;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Leads;

/// <summary>What came, or would come, of a file.</summary>
/// <param name="Read">Lines read.</param>
/// <param name="New">People who were not known.</param>
/// <param name="Known">People who were.</param>
/// <param name="Agreed">Of both, those of whom the file says what they agreed to and when.</param>
/// <param name="LeftAlone">Those who took it back before: nothing of them is changed.</param>
/// <param name="Refused">How many lines are none.</param>
/// <param name="Faults">The first of them, and why.</param>
/// <param name="Columns">What each heading was taken for; "answer" for one of its own.</param>
internal sealed record ImportedLeadsView(
    int Read,
    int New,
    int Known,
    int Agreed,
    int LeftAlone,
    int Refused,
    IReadOnlyList<ImportFaultView> Faults,
    IReadOnlyDictionary<string, string> Columns
);

/// <param name="Line">Its number in the file; the heading is 1.</param>
internal sealed record ImportFaultView(int Line, string Why);

/// <summary>Takes people in from a file, whole or not at all. Nobody is written to by it, told of it, or brought into a follow-up.</summary>
internal sealed class ImportLeads(OutcryDb db, LiveSites sites, SiteNews news, TraceBook traces, IClock clock)
{
    public const int MostBytes = 10_000_000;
    private const int MostLines = 50_000;
    private const int MostFaults = 50;
    private const int Lot = 500;
    private const int MostTags = 30;

    public async Task<Results<Ok<ImportedLeadsView>, ProblemHttpResult>> HandleAsync(
        Guid siteId,
        HttpRequest request,
        string name,
        bool dryRun,
        CancellationToken stop
    )
    {
        if (request.HttpContext.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
            limit.MaxRequestBodySize = MostBytes + 1;
        if (await BodyLimits.TryReadAsync(request, MostBytes, stop) is not { } bytes)
            return Problems.TooLarge(MostBytes);
        var (site, now) = (sites.GetById(siteId), clock.GetCurrentInstant());
        var (file, problem) = Read(Encoding.UTF8.GetString(bytes), site.Region, now);
        if (file is null)
            return problem!;
        var from = PlainText.Clip($"Import of {PlainText.OrNull(name) ?? "a file"}", 80);
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        var counts = new Counts();
        foreach (var lot in file.People.Chunk(Lot))
        {
            await TakeAsync(site, lot, from, counts, now, stop);
            await db.SaveChangesAsync(stop);
            db.ChangeTracker.Clear();
        }
        if (!dryRun)
        {
            traces.Add(
                "imported leads",
                from,
                siteId,
                [new TracedChange("people", "", $"{counts.New + counts.Known}")]
            );
            await db.SaveChangesAsync(stop);
            await transaction.CommitAsync(stop);
            await news.TellAsync(siteId, SiteChange.Gave);
        }
        // Tried out, everything is done and taken back: what is told is what would be.
        return TypedResults.Ok(
            new ImportedLeadsView(
                file.People.Count + file.Refused,
                counts.New,
                counts.Known,
                counts.Agreed,
                counts.LeftAlone,
                file.Refused,
                file.Faults,
                file.Columns
            )
        );
    }

    private sealed class Counts
    {
        public int New { get; set; }
        public int Known { get; set; }
        public int Agreed { get; set; }
        public int LeftAlone { get; set; }
    }

    private sealed record PeopleFile(
        List<ImportedLead> People,
        int Refused,
        List<ImportFaultView> Faults,
        Dictionary<string, string> Columns
    );

    private static (PeopleFile? File, ProblemHttpResult? Problem) Read(string text, string region, Instant now)
    {
        try
        {
            using var reader = new CsvReader(new StringReader(text.TrimStart('\uFEFF')), ListReader.CsvSettings);
            if (!reader.Read() || !reader.ReadHeader() || reader.HeaderRecord is not { Length: > 0 } heading)
                return (null, Problems.BadField("file", "It is empty: not even a heading line."));
            var means = heading
                .Where(h => h.Trim().Length > 0)
                .Distinct(StringComparer.Ordinal)
                .ToDictionary(h => h, h => ImportedLead.MeaningOf(h) ?? "answer");
            if (!means.ContainsValue("email") && !means.ContainsValue("phone"))
                return (
                    null,
                    Problems.BadField(
                        "file",
                        "No column is called \"email\" or \"phone\": people are known by one of them."
                    )
                );
            var (people, faults, refused) = (new List<ImportedLead>(), new List<ImportFaultView>(), 0);
            for (var line = 2; reader.Read(); line++)
            {
                if (line > MostLines + 1)
                    return (null, Problems.BadField("file", $"At most {MostLines} people in one file."));
                var cells = new Dictionary<string, string>(StringComparer.Ordinal);
                for (var i = 0; i < heading.Length && i < reader.Parser.Count; i++)
                    cells.TryAdd(heading[i], reader.Parser[i]);
                var (lead, fault) = ImportedLead.Read(cells, region, now);
                if (lead is not null)
                    people.Add(lead);
                else if (++refused <= MostFaults)
                    faults.Add(new ImportFaultView(line, fault!));
            }
            return (new PeopleFile(people, refused, faults, means), null);
        }
        catch (CsvHelperException)
        {
            return (
                null,
                Problems.BadField(
                    "file",
                    "It cannot be read as CSV: a cell is longer than any could be. Is a quote never closed?"
                )
            );
        }
    }

    private async Task TakeAsync(
        LiveSite site,
        ImportedLead[] people,
        string from,
        Counts counts,
        Instant now,
        CancellationToken stop
    )
    {
        var emails = people.Select(p => AnswerSheet.EmailKey(p.Email)).OfType<string>().ToArray();
        var phones = people.Where(p => p.Email is null).Select(p => p.Phone).OfType<string>().ToArray();
        // Held until the file is in: whoever takes it back meanwhile has the last word.
        var known = await db
            .Leads.FromSql(
                $"""
                select * from leads where workspace_id = {site.WorkspaceId}
                  and (email_key = any({emails}) or phone = any({phones})) order by id for update
                """
            )
            .AsTracking()
            .ToListAsync(stop);
        var byEmail = known.Where(l => l.EmailKey is not null).ToDictionary(l => l.EmailKey!);
        var byPhone = known
            .Where(l => l.Phone is not null)
            .GroupBy(l => l.Phone!)
            .ToDictionary(g => g.Key, g => g.First());
        var promises = await PromisesAsync(site, people, now, stop);
        var ids = people.Select(p => IdOf(site, p)).ToList();
        var said = (await db.LeadYeses.Where(y => ids.Contains(y.Id)).Select(y => y.Id).ToListAsync(stop)).ToHashSet();
        foreach (var person in people)
        {
            var key = AnswerSheet.EmailKey(person.Email);
            var lead = key is not null ? byEmail.GetValueOrDefault(key) : byPhone.GetValueOrDefault(person.Phone!);
            if (lead is { State: LeadState.Withdrawn })
            {
                counts.LeftAlone++;
                continue;
            }
            var promise =
                person.Promise.Length > 0 ? promises[(LanguageOf(site, person), person.Promise)] : (Guid?)null;
            if (lead is null)
            {
                counts.New++;
                lead = Make(site, person, promise, from, now);
                db.Leads.Add(lead);
                if (key is not null)
                    byEmail[key] = lead;
                if (person.Phone is { } phone)
                    byPhone.TryAdd(phone, lead);
            }
            else
            {
                counts.Known++;
                Add(site, lead, person, promise, now);
            }
            if (promise is { } agreed)
            {
                counts.Agreed += lead.Life.MayBeWrittenTo ? 1 : 0;
                if (said.Add(IdOf(site, person)))
                    db.LeadYeses.Add(YesOf(site, person, lead, agreed, from));
            }
        }
    }

    private static string LanguageOf(LiveSite site, ImportedLead person) =>
        person.Language.Length > 0 ? person.Language : site.Context.Language;

    // The same line read again is the same yes.
    private static Guid IdOf(LiveSite site, ImportedLead person) =>
        new(
            SHA256
                .HashData(
                    Encoding.UTF8.GetBytes(
                        $"{site.Id}\n{AnswerSheet.EmailKey(person.Email)}\n{person.Phone}\n{person.Promise}\n{person.AgreedAt}"
                    )
                )
                .AsSpan(0, 16)
        );

    private static LeadRow Make(LiveSite site, ImportedLead person, Guid? promise, string from, Instant now) =>
        new()
        {
            WorkspaceId = site.WorkspaceId,
            Sites = [site.Id],
            Email = person.Email,
            EmailKey = AnswerSheet.EmailKey(person.Email),
            Phone = person.Phone,
            FirstName = person.FirstName,
            Surname = person.Surname,
            // Whoever is not said to have agreed waits: they are written to by nobody.
            Life = LeadLife.Begin(promise, confirms: promise is null, person.AgreedAt ?? now),
            GaveAt = person.AgreedAt ?? now,
            ChangedAt = now,
            Answers = new Dictionary<string, string>(person.Answers),
            Tags = [.. person.Tags],
            From = from,
            Language = LanguageOf(site, person),
        };

    // What is known already is not overwritten by a file; what is missing is filled in.
    private static void Add(LiveSite site, LeadRow lead, ImportedLead person, Guid? promise, Instant now)
    {
        lead.Life = lead.Life.TakeFromFile(promise, person.AgreedAt ?? now);
        if (!lead.Sites.Contains(site.Id))
            lead.Sites = [.. lead.Sites, site.Id];
        lead.Phone ??= person.Phone;
        if (lead.FirstName.Length == 0)
            lead.FirstName = person.FirstName;
        if (lead.Surname.Length == 0)
            lead.Surname = person.Surname;
        var answers = new Dictionary<string, string>(lead.Answers);
        foreach (var (key, value) in person.Answers)
            answers.TryAdd(key, value);
        lead.Answers = answers;
        lead.Tags = [.. lead.Tags.Union(person.Tags, StringComparer.OrdinalIgnoreCase).Take(MostTags)];
        lead.ChangedAt = now;
    }

    private static LeadYesRow YesOf(LiveSite site, ImportedLead person, LeadRow lead, Guid promise, string from) =>
        new()
        {
            Id = IdOf(site, person),
            WorkspaceId = site.WorkspaceId,
            SiteId = site.Id,
            LeadId = lead.Id,
            CalloutId = Guid.Empty,
            Name = from,
            PromiseId = promise,
            Language = LanguageOf(site, person),
            Page = "",
            VisitorId = "",
            At = person.AgreedAt!.Value,
            Answers = new Dictionary<string, string>(person.Answers),
        };

    private async Task<Dictionary<(string Language, string Text), Guid>> PromisesAsync(
        LiveSite site,
        ImportedLead[] people,
        Instant now,
        CancellationToken stop
    )
    {
        var found = new Dictionary<(string Language, string Text), Guid>();
        foreach (var person in people.Where(p => p.Promise.Length > 0))
        {
            var key = (LanguageOf(site, person), person.Promise);
            if (!found.ContainsKey(key))
                found[key] = await LeadBook.PromiseAsync(db, site.WorkspaceId, key.Item1, key.Promise, now, stop);
        }
        return found;
    }
}
