using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;
using Outcry.Core.Asking;
using Outcry.Core.Briefs;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Leads;

/// <summary>What somebody said yes to: a prompt, or the script of a talk.</summary>
/// <param name="Id">Its definition.</param>
/// <param name="Revision">Which revision of it.</param>
/// <param name="Name">As it is called now.</param>
internal sealed record SaidYesTo(Guid Id, int Revision, string Name);

/// <summary>A yes as it comes from a page.</summary>
internal sealed record NewYes(
    Guid Id,
    SaidYesTo To,
    AskFacet Ask,
    AnswerSheet Sheet,
    string Promise,
    string Language,
    string Page,
    string Campaign,
    string VisitorId,
    string Place,
    bool IsTest
)
{
    /// <summary>IANA time zone of the browser; empty where it is not known.</summary>
    public string Zone { get; init; } = "";
}

/// <summary>What became of a yes.</summary>
/// <param name="Lead">The person as they stand then.</param>
/// <param name="Yes">The yes.</param>
/// <param name="Asks">Whether a mail that asks to confirm goes out.</param>
/// <param name="Gives">Whether what was promised is theirs now.</param>
internal sealed record TakenYes(LeadRow Lead, LeadYesRow Yes, bool Asks, bool Gives);

/// <summary>Keeps leads: each act is one transaction under the person's lock.</summary>
internal sealed class LeadBook(SystemDb database, LeadLetters letters, SiteNews news, IClock clock)
{
    private const int MostTries = 5;
    private const int MostVisitors = 20;
    private const int MostTags = 30;

    /// <summary>Takes a yes; sent twice it is one. Null where its id is that of somebody else's.</summary>
    public async Task<TakenYes?> TakeAsync(LiveSite site, NewYes given, string desk, CancellationToken stop)
    {
        for (var tries = 1; ; tries++)
            try
            {
                if (await TryTakeAsync(site, given, desk, stop) is not { } taken)
                    return null;
                await news.TellAsync(site.Id, SiteChange.Gave, taken.Lead.Id);
                return taken;
            }
            catch (DbUpdateException twice)
                when (tries < MostTries
                    && twice.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation }
                )
            {
                // The same person, or the same yes, came at the same moment: now it is there.
            }
    }

    private async Task<TakenYes?> TryTakeAsync(LiveSite site, NewYes given, string desk, CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        await using var db = database.Open();
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        if (await db.LeadYeses.FirstOrDefaultAsync(y => y.Id == given.Id, stop) is { } known)
        {
            // What was given to one browser is shown to no other.
            if (known.SiteId != site.Id || known.VisitorId != given.VisitorId)
                return null;
            var of = await db.Leads.FirstAsync(l => l.Id == known.LeadId, stop);
            return new TakenYes(of, known, false, known.Code.Length > 0 || !given.Ask.Confirms);
        }
        var promise =
            given.Promise.Length > 0
                ? await PromiseAsync(db, site.WorkspaceId, given.Language, given.Promise, now, stop)
                : (Guid?)null;
        var lead = await FindAsync(db, site.WorkspaceId, given.Sheet, stop);
        if (lead is null)
        {
            lead = Make(site, given, promise, now);
            db.Leads.Add(lead);
        }
        else
            Add(lead, given, promise, now);
        if (!lead.Sites.Contains(site.Id))
            lead.Sites = [.. lead.Sites, site.Id];
        var yes = new LeadYesRow
        {
            Id = given.Id,
            WorkspaceId = site.WorkspaceId,
            SiteId = site.Id,
            LeadId = lead.Id,
            CalloutId = given.To.Id,
            Revision = given.To.Revision,
            Name = given.To.Name,
            PromiseId = promise,
            Ticked = given.Ask.Ticks,
            Language = given.Language,
            Page = given.Page,
            VisitorId = given.VisitorId,
            At = now,
            Answers = given.Sheet.Values.ToDictionary(),
        };
        db.LeadYeses.Add(yes);
        // By a promise that was taken back nobody is written to again, and nothing is given.
        var isHeard = promise is not { } agreed || !lead.Withdrawn.Contains(agreed);
        var asks =
            isHeard && given.Ask.Confirms && lead.Life.MayBeAskedToConfirm && await MayAskAsync(db, lead, now, stop);
        var gives = isHeard && lead.Life.MayBeWrittenTo;
        await db.SaveChangesAsync(stop);
        await LeadHooks.TellAsync(db, site, lead, LeadWord.New, now, stop);
        if (gives && !given.Ask.Confirms)
            await LeadHooks.TellAsync(db, site, lead, LeadWord.Confirmed, now, stop);
        if (gives)
        {
            yes.ConfirmedAt = given.Ask.Confirms ? lead.ConfirmedAt : null;
            await GiveAsync(db, site, yes, given.Ask.Reward, desk, stop);
            // Whoever confirmed once is not asked again: what was promised comes by mail, and the page says what it always says.
            if (given.Ask.Confirms && given.Ask.Reward.Kind != RewardKind.None)
                letters.Bring(db, site, lead, yes, given.Ask.Reward, desk);
            await FollowUps.EnterAsync(db, site, lead, given.To.Id, given.Ask.Tags, desk, now, stop);
        }
        if (asks)
        {
            yes.AskedAt = [now];
            letters.AskToConfirm(db, site, lead, yes, given.Ask, desk);
        }
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
        return new TakenYes(lead, yes, asks, gives);
    }

    /// <summary>Sends the mail that asks to confirm once more; whether it went is told to nobody.</summary>
    public async Task AskAgainAsync(LiveSite site, Guid yesId, string visitor, string desk, CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        await using var db = database.Open();
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        var yes = await db.LeadYeses.FirstOrDefaultAsync(
            y => y.Id == yesId && y.SiteId == site.Id && y.VisitorId == visitor,
            stop
        );
        if (
            yes is null
            || await LockAsync(db, yes.LeadId, stop) is not { } lead
            || !lead.Life.MayBeAskedToConfirm
            || !await MayAskAsync(db, lead, now, stop)
            || await AskOfAsync(db, yes, stop) is not { } ask
        )
            return;
        yes.AskedAt = [.. yes.AskedAt.TakeLast(LeadLife.MostAsksAnHour), now];
        letters.AskToConfirm(db, site, lead, yes, ask, desk);
        await db.SaveChangesAsync(stop);
        await transaction.CommitAsync(stop);
    }

    /// <summary>A yes with its person; null where either is gone.</summary>
    public async Task<(LeadYesRow Yes, LeadRow Lead, AskFacet? Ask)?> FindAsync(
        LiveSite site,
        Guid yesId,
        CancellationToken stop
    )
    {
        await using var db = database.Open();
        var yes = await db.LeadYeses.FirstOrDefaultAsync(y => y.Id == yesId && y.SiteId == site.Id, stop);
        var lead = yes is null ? null : await db.Leads.FirstOrDefaultAsync(l => l.Id == yes.LeadId, stop);
        return yes is null || lead is null ? null : (yes, lead, await AskOfAsync(db, yes, stop));
    }

    /// <summary>Confirms a yes, and gives what was promised; done twice it is done once. Null where it can no longer be confirmed.</summary>
    public async Task<(LeadYesRow Yes, LeadRow Lead, AskFacet? Ask)?> ConfirmAsync(
        LiveSite site,
        Guid yesId,
        string desk,
        CancellationToken stop
    )
    {
        var now = clock.GetCurrentInstant();
        await using var db = database.Open();
        await using var transaction = await db.Database.BeginTransactionAsync(stop);
        var yes = await db.LeadYeses.FirstOrDefaultAsync(y => y.Id == yesId && y.SiteId == site.Id, stop);
        if (yes is null || await LockAsync(db, yes.LeadId, stop) is not { } lead)
            return null;
        var after = lead.Life.Confirm(now);
        if (!after.MayBeWrittenTo)
            return null;
        var ask = await AskOfAsync(db, yes, stop);
        // Read once more under the lock: of two presses at once one comes second.
        await db.Entry(yes).ReloadAsync(stop);
        if (yes.ConfirmedAt is null)
        {
            (lead.Life, lead.ChangedAt, yes.ConfirmedAt) = (after, now, now);
            await LeadHooks.TellAsync(db, site, lead, LeadWord.Confirmed, now, stop);
            await db.SaveChangesAsync(stop);
            if (ask is not null)
            {
                await GiveAsync(db, site, yes, ask.Reward, desk, stop);
                if (ask.Reward.Kind != RewardKind.None)
                    letters.Bring(db, site, lead, yes, ask.Reward, desk);
            }
            // Tags that they were given while they waited count from now on.
            await FollowUps.EnterAsync(db, site, lead, yes.CalloutId, lead.Tags, desk, now, stop);
            await db.SaveChangesAsync(stop);
        }
        await transaction.CommitAsync(stop);
        await news.TellAsync(site.Id, SiteChange.Gave, lead.Id);
        return (yes, lead, ask);
    }

    /// <summary>Takes back everything that a person agreed to. Whether there was such a person.</summary>
    public async Task<bool> WithdrawAsync(LiveSite site, Guid leadId, CancellationToken stop)
    {
        var now = clock.GetCurrentInstant();
        await using (var db = database.Open())
        {
            await using var transaction = await db.Database.BeginTransactionAsync(stop);
            if (await LockAsync(db, leadId, stop) is not { } lead || lead.WorkspaceId != site.WorkspaceId)
                return false;
            if (lead.State != LeadState.Withdrawn)
            {
                (lead.Life, lead.ChangedAt) = (lead.Life.Withdraw(now), now);
                await LeadHooks.TellAsync(db, site, lead, LeadWord.Withdrawn, now, stop);
                await db.ForgetLettersAsync([leadId], now, stop);
            }
            await db.SaveChangesAsync(stop);
            await transaction.CommitAsync(stop);
        }
        await news.TellAsync(site.Id, SiteChange.Gave, leadId);
        return true;
    }

    // Atomic: of as many as confirm at once each has a code of its own, and none has two.
    private async Task GiveAsync(
        OutcryDb db,
        LiveSite site,
        LeadYesRow yes,
        Reward reward,
        string desk,
        CancellationToken stop
    )
    {
        if (reward.Kind == RewardKind.Code)
            yes.Code = reward.Code;
        if (reward is not { Kind: RewardKind.Pool, SourceId: { } pool } || yes.Code.Length > 0)
            return;
        var now = clock.GetCurrentInstant();
        var given = await db
            .Database.SqlQuery<string>(
                $"""
                update codes set yes_id = {yes.Id}, given_at = {now}
                where pool_id = {pool} and exists (select 1 from code_pools p where p.id = {pool} and p.site_id = {site.Id})
                  and code = (
                  select code from codes where pool_id = {pool} and yes_id is null
                  order by code limit 1 for update skip locked)
                returning code as "Value"
                """
            )
            .ToListAsync(stop);
        yes.Code = given.FirstOrDefault() ?? "";
        await WarnAsync(db, site, pool, desk, stop);
    }

    private async Task WarnAsync(OutcryDb db, LiveSite site, Guid poolId, string desk, CancellationToken stop)
    {
        var left = await db.Codes.CountAsync(c => c.PoolId == poolId && c.YesId == null, stop);
        if (left * 10 > await db.Codes.CountAsync(c => c.PoolId == poolId, stop))
            return;
        // One statement: of many who find it low at once one tells of it.
        var now = clock.GetCurrentInstant();
        var isFirst = await db
            .CodePools.Where(p => p.Id == poolId && p.WarnedAt == null)
            .ExecuteUpdateAsync(u => u.SetProperty(p => p.WarnedAt, now), stop);
        if (isFirst > 0)
            await letters.WarnOfPoolAsync(
                db,
                site,
                await db.CodePools.AsNoTracking().FirstAsync(p => p.Id == poolId, stop),
                left,
                desk,
                stop
            );
    }

    private static async Task<bool> MayAskAsync(OutcryDb db, LeadRow lead, Instant now, CancellationToken stop)
    {
        var hourAgo = now - Duration.FromHours(1);
        var asked = await db.LeadYeses.Where(y => y.LeadId == lead.Id).Select(y => y.AskedAt).ToListAsync(stop);
        return asked.SelectMany(a => a).Count(a => a > hourAgo) < LeadLife.MostAsksAnHour;
    }

    private static async Task<AskFacet?> AskOfAsync(OutcryDb db, LeadYesRow yes, CancellationToken stop) =>
        (
            await db
                .Revisions.AsNoTracking()
                .Where(r => r.DefinitionId == yes.CalloutId && r.Number == yes.Revision)
                .Select(r => r.Content)
                .FirstOrDefaultAsync(stop)
        )
            ?.Read<Brief>()
            .Ask;

    private static Task<LeadRow?> LockAsync(OutcryDb db, Guid id, CancellationToken stop) =>
        db.Leads.FromSql($"select * from leads where id = {id} for update").AsTracking().FirstOrDefaultAsync(stop);

    // By the address, else by the number of somebody whose address is not known or not given; without either it is only a yes.
    private static async Task<LeadRow?> FindAsync(
        OutcryDb db,
        Guid workspace,
        AnswerSheet sheet,
        CancellationToken stop
    )
    {
        var (email, phone) = (AnswerSheet.EmailKey(sheet.Email), sheet.Phone);
        var byEmail = email is null
            ? null
            : await db
                .Leads.FromSql(
                    $"select * from leads where workspace_id = {workspace} and email_key = {email} for update"
                )
                .AsTracking()
                .FirstOrDefaultAsync(stop);
        return phone is null || byEmail is not null
            ? byEmail
            : await db
                .Leads.FromSql(
                    $"""
                    select * from leads where workspace_id = {workspace} and phone = {phone}
                      and (email_key is null or {email}::text is null)
                    order by gave_at limit 1 for update
                    """
                )
                .AsTracking()
                .FirstOrDefaultAsync(stop);
    }

    private static LeadRow Make(LiveSite site, NewYes given, Guid? promise, Instant now)
    {
        var sheet = given.Sheet;
        return new LeadRow
        {
            WorkspaceId = site.WorkspaceId,
            Email = sheet.Email,
            EmailKey = AnswerSheet.EmailKey(sheet.Email),
            Phone = sheet.Phone,
            FirstName = sheet.FirstName ?? "",
            Surname = sheet.Surname ?? "",
            Life = LeadLife.Begin(promise, given.Ask.Confirms, now),
            GaveAt = now,
            ChangedAt = now,
            Answers = sheet.Values.ToDictionary(),
            Tags = [.. given.Ask.Tags],
            Visitors = [given.VisitorId],
            From = given.To.Name,
            Page = given.Page,
            Campaign = given.Campaign,
            Language = given.Language,
            Place = given.Place,
            Zone = given.Zone,
            IsTest = given.IsTest,
        };
    }

    // Newest non-empty answers win; earlier ones stay with their yes.
    private static void Add(LeadRow lead, NewYes given, Guid? promise, Instant now)
    {
        var sheet = given.Sheet;
        lead.Life = lead.Life.SayYes(promise, given.Ask.Confirms, now);
        lead.ChangedAt = now;
        lead.Email ??= sheet.Email;
        lead.EmailKey ??= AnswerSheet.EmailKey(sheet.Email);
        // Whoever tried it as a member and says yes as a visitor has said yes.
        lead.IsTest &= given.IsTest;
        lead.Phone = sheet.Phone ?? lead.Phone;
        lead.FirstName = sheet.FirstName ?? lead.FirstName;
        lead.Surname = sheet.Surname ?? lead.Surname;
        lead.Language = given.Language;
        lead.Zone = given.Zone.Length > 0 ? given.Zone : lead.Zone;
        var answers = new Dictionary<string, string>(lead.Answers);
        foreach (var (key, value) in sheet.Values)
            answers[key] = value;
        lead.Answers = answers;
        lead.Tags = [.. lead.Tags.Union(given.Ask.Tags, StringComparer.OrdinalIgnoreCase).Take(MostTags)];
        lead.Visitors = [.. lead.Visitors.Append(given.VisitorId).Distinct().TakeLast(MostVisitors)];
    }

    /// <summary>The promise of these very words in a workspace; made where there is none yet.</summary>
    public static async Task<Guid> PromiseAsync(
        OutcryDb db,
        Guid workspace,
        string language,
        string text,
        Instant now,
        CancellationToken stop
    )
    {
        var hash = SHA256.HashData(Encoding.UTF8.GetBytes($"{language}\n{text}"));
        var known = await db
            .Promises.Where(p => p.WorkspaceId == workspace && p.Hash == hash)
            .Select(p => (Guid?)p.Id)
            .FirstOrDefaultAsync(stop);
        if (known is { } id)
            return id;
        var row = new PromiseRow
        {
            WorkspaceId = workspace,
            Language = language,
            Text = text,
            Hash = hash,
            Number =
                1
                + await db.Promises.CountAsync(p => p.WorkspaceId == workspace, stop)
                + db.Promises.Local.Count(p => db.Entry(p).State == EntityState.Added),
            FirstAt = now,
        };
        db.Promises.Add(row);
        return row.Id;
    }
}
