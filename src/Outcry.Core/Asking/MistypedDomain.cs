namespace Outcry.Core.Asking;

/// <summary>Asks after an address whose domain is one slip away from one that many others gave.</summary>
public static class MistypedDomain
{
    /// <summary>So many people of the workspace give a domain before another is taken for a slip of it: fewer would say who they are.</summary>
    public const int LeastPeople = 20;

    /// <summary>The address as it may have been meant; null where nothing speaks for a slip.</summary>
    /// <param name="address">As it was typed; an address already.</param>
    /// <param name="common">Domains that at least <see cref="LeastPeople"/> people gave, the most common first.</param>
    public static string? Meant(string address, IReadOnlyList<string> common)
    {
        var at = address.LastIndexOf('@');
        var domain = address[(at + 1)..];
        if (at < 1 || common.Contains(domain, StringComparer.OrdinalIgnoreCase))
            return null;
        foreach (var known in common)
            if (IsOneSlipFrom(domain, known))
                return address[..(at + 1)] + known;
        return null;
    }

    /// <summary>Whether one letter too many, too few, another, or two that changed places make the difference (optimal string alignment distance 1).</summary>
    public static bool IsOneSlipFrom(string typed, string meant)
    {
        if (Math.Abs(typed.Length - meant.Length) > 1)
            return false;
        var i = 0;
        while (i < typed.Length && i < meant.Length && typed[i] == meant[i])
            i++;
        var left = typed.AsSpan(i);
        var right = meant.AsSpan(i);
        if (left.Length == 0 && right.Length == 0)
            return false;
        return left.Length > right.Length ? left[1..].SequenceEqual(right)
            : left.Length < right.Length ? right[1..].SequenceEqual(left)
            : left[1..].SequenceEqual(right[1..])
                || (
                    left.Length > 1 && left[0] == right[1] && left[1] == right[0] && left[2..].SequenceEqual(right[2..])
                );
    }
}
