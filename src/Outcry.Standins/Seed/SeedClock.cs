using NodaTime;

namespace Outcry.Standins.Seed;

/// <summary>A clock that the seed walks through the past.</summary>
internal sealed class SeedClock(Instant start) : IClock
{
    public Instant Now { get; set; } = start;

    public Instant GetCurrentInstant() => Now;
}
