using MemoryPack;

namespace Outcry.Server.Passports;

/// <summary>What the browser carries between page views. Times are Unix milliseconds.</summary>
/// <remarks>Members may be added at the end; a passport of before is read without them. What else changes makes another version.</remarks>
[MemoryPackable(GenerateType.VersionTolerant)]
internal sealed partial class PassportBody
{
    [MemoryPackOrder(0)]
    public required string VisitorId { get; init; }

    [MemoryPackOrder(1)]
    public long FirstSeenMs { get; init; }

    [MemoryPackOrder(2)]
    public int VisitNumber { get; init; }

    [MemoryPackOrder(3)]
    public int VisitPages { get; init; }

    [MemoryPackOrder(4)]
    public long VisitStartedMs { get; init; }

    [MemoryPackOrder(5)]
    public long VisitLastSeenMs { get; init; }

    [MemoryPackOrder(6)]
    public int VisitStarts { get; init; }

    [MemoryPackOrder(7)]
    public long? VisitLastEndMs { get; init; }

    [MemoryPackOrder(8)]
    public long? HushUntilMs { get; init; }

    [MemoryPackOrder(9)]
    public long? DialogHushUntilMs { get; init; }

    [MemoryPackOrder(10)]
    public int PagesEver { get; init; }

    [MemoryPackOrder(11)]
    public long? LastVisitMs { get; init; }

    [MemoryPackOrder(12)]
    public string? EntryPage { get; init; }

    [MemoryPackOrder(13)]
    public string? Referrer { get; init; }

    [MemoryPackOrder(14)]
    public Dictionary<string, string>? Campaign { get; init; }

    /// <summary>Stands for the page it was given out for.</summary>
    [MemoryPackOrder(15)]
    public ulong Page { get; init; }

    [MemoryPackOrder(16)]
    public long GivenMs { get; init; }

    /// <summary>What was noted already and counts once; null for nothing.</summary>
    [MemoryPackOrder(17)]
    public string[]? Noted { get; init; }

    [MemoryPackOrder(18)]
    public required ExposureBody[] Exposures { get; init; }
}

/// <summary>How one callout was met.</summary>
[MemoryPackable]
internal sealed partial class ExposureBody
{
    public Guid Callout { get; init; }
    public int Visits { get; init; }
    public long LastStartMs { get; init; }
    public int LastStartVisit { get; init; }
    public long? LastCloseMs { get; init; }
    public long? LastClickMs { get; init; }

    /// <summary>Starts not long ago; null where the last is the only one.</summary>
    public long[]? RecentMs { get; init; }
}
