namespace Outcry.Core.Asking;

/// <summary>A share with the interval in which the true one lies with 95 % (E. B. Wilson, "Probable inference", 1927).</summary>
/// <param name="Share">The share seen, 0 to 1.</param>
/// <param name="Low">The interval's lower end.</param>
/// <param name="High">Its upper end.</param>
public readonly record struct Wilson(double Share, double Low, double High)
{
    // The normal distribution's 97.5th percentile.
    private const double Z = 1.959963984540054;

    /// <summary>Of how many how many.</summary>
    /// <param name="some">From 0 to <paramref name="all"/>.</param>
    /// <param name="all">At least 1.</param>
    /// <exception cref="ArgumentOutOfRangeException">There is nothing to have a share of, or a share of more than all.</exception>
    public static Wilson Of(int some, int all)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(all, 1);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(some, all);
        ArgumentOutOfRangeException.ThrowIfNegative(some);
        var (p, n) = ((double)some / all, (double)all);
        var middle = (p + Z * Z / (2 * n)) / (1 + Z * Z / n);
        var half = Z / (1 + Z * Z / n) * Math.Sqrt(p * (1 - p) / n + Z * Z / (4 * n * n));
        return new Wilson(p, Math.Max(0, middle - half), Math.Min(1, middle + half));
    }
}
