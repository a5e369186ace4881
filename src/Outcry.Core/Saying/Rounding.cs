namespace Outcry.Core.Saying;

/// <summary>Rounds numbers down to a friendly step, so that a sensitive one is not given away.</summary>
public static class Rounding
{
    /// <summary>From here on numbers are rounded; those below are said as they are.</summary>
    public const decimal FirstStep = 10;

    /// <summary>1 to 9 as they are, 10 to 99 down to tens, 100 to 999 down to fifties, above down to hundreds.</summary>
    /// <param name="number">0 or more; a fraction is cut off first.</param>
    /// <returns>A whole number, to be said with "+" after it.</returns>
    /// <exception cref="ArgumentOutOfRangeException">The number is negative.</exception>
    public static decimal Down(decimal number)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(number);
        var whole = decimal.Truncate(number);
        var step = whole switch
        {
            < FirstStep => 1m,
            < 100 => 10m,
            < 1_000 => 50m,
            _ => 100m,
        };
        return whole - whole % step;
    }
}
