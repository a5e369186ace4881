using System.Globalization;

namespace Outcry.Tests.Shared;

/// <summary>Days by the clock that the tests run on, so that no test depends on the day it was written.</summary>
public static class Ago
{
    /// <summary>The date so many days before today in universal time, as "uuuu-MM-dd".</summary>
    public static string Days(int days) =>
        DateTime.UtcNow.AddDays(-days).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
}
