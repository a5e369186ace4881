using NodaTime;
using Outcry.Core.Access;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Platform;

/// <summary>What was done, kept with the change itself: who, when, what, before and after in words, from which device.</summary>
internal sealed class TraceBook(OutcryDb db, CurrentMember member, IHttpContextAccessor context, IClock clock)
{
    private const int LongestSubject = 200;

    /// <summary>Notes an act; it is kept when the change is saved, or not at all.</summary>
    /// <param name="act">The verb, in the past: "published".</param>
    /// <param name="subject">What it was done to, by its name.</param>
    /// <param name="siteId">The site it is about; null for the workspace's own matters.</param>
    /// <param name="changes">Before and after.</param>
    /// <param name="link">Kind and id of what has a page of its own.</param>
    public void Add(
        string act,
        string subject,
        Guid? siteId = null,
        IReadOnlyList<TracedChange>? changes = null,
        string link = ""
    ) => AddFor(member.WorkspaceId, act, subject, siteId, changes, link);

    /// <summary>The same, where the workspace is not the one that the request is about.</summary>
    public void AddFor(
        Guid workspaceId,
        string act,
        string subject,
        Guid? siteId = null,
        IReadOnlyList<TracedChange>? changes = null,
        string link = "",
        (Guid Id, string Name)? by = null
    ) =>
        db.Traces.Add(
            new TraceRow
            {
                WorkspaceId = workspaceId,
                AboutSite = siteId,
                At = clock.GetCurrentInstant(),
                MemberId = by?.Id ?? (member.Id == Guid.Empty ? null : member.Id),
                By = by?.Name ?? member.Name,
                Act = act,
                Subject = subject.Length > LongestSubject ? subject[..LongestSubject] : subject,
                Link = link,
                Changes = [.. changes ?? []],
                Device = member.Scopes is not null
                    ? $"token {member.Name}"
                    : DeviceName.Of(context.HttpContext?.Request.Headers.UserAgent.ToString() ?? ""),
            }
        );

    /// <summary>What differs between two states of a thing, as they are kept.</summary>
    public static IReadOnlyList<TracedChange> Between<T>(T before, T after) =>
        ChangeWords.Between(before, after, JsonColumn.Options);
}
