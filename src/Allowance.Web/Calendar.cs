using System.Globalization;

namespace Allowance.Web;

/// <summary>In what order a household writes a date.</summary>
public enum DateOrder { DayMonthYear, MonthDayYear, YearMonthDay }

/// <summary>Paper to print on.</summary>
public enum Paper { A4, Letter }

/// <summary>How a household writes its dates, where its week begins, and what paper it has: its own form, not that of a browser.</summary>
public sealed record Calendar(DateOrder Order, DayOfWeek FirstDay, Paper Paper)
{
    public static Calendar Default { get; } = new(DateOrder.DayMonthYear, DayOfWeek.Monday, Paper.A4);

    private static readonly CultureInfo Words = CultureInfo.InvariantCulture;

    private string In(DateOnly day, string dayMonthYear, string monthDayYear) =>
        day.ToString(Order switch { DateOrder.DayMonthYear => dayMonthYear, DateOrder.MonthDayYear => monthDayYear, _ => "yyyy-MM-dd" }, Words);

    /// <summary>29 November 2026</summary>
    public string Day(DateOnly day) => In(day, "d MMMM yyyy", "MMMM d, yyyy");

    /// <summary>29 November</summary>
    public string DayOfYear(DateOnly day) => In(day, "d MMMM", "MMMM d");

    /// <summary>29 Nov 2026</summary>
    public string Short(DateOnly day) => In(day, "d MMM yyyy", "MMM d, yyyy");

    /// <summary>29 Nov</summary>
    public string Shortest(DateOnly day) => In(day, "d MMM", "MMM d");

    /// <summary>Sunday, 29 November 2026</summary>
    public string WithWeekday(DateTimeOffset at) => $"{at.ToString("dddd", Words)}, {Day(DateOnly.FromDateTime(at.DateTime))}";

    /// <summary>29 Nov, 18:40</summary>
    public string Moment(DateTimeOffset at) => $"{Shortest(DateOnly.FromDateTime(at.DateTime))}, {Time(at)}";

    /// <summary>Sun 29 Nov 2026, 18:40</summary>
    public string MomentWithWeekday(DateTimeOffset at) => $"{at.ToString("ddd", Words)} {Short(DateOnly.FromDateTime(at.DateTime))}, {Time(at)}";

    public static string Time(DateTimeOffset at) => at.ToString("HH:mm", Words);

    /// <summary>As it stands in a field: 29/11/2026, 11/29/2026 or 2026-11-29.</summary>
    public string Written(DateOnly? day) => day is { } given ? In(given, "dd/MM/yyyy", "MM/dd/yyyy") : "";

    /// <summary>A month as it stands in a field: 05/2021 or 2021-05.</summary>
    /// <param name="month">"2021-05", as it is kept; null or empty for none.</param>
    public string WrittenMonth(string? month) => ReadMonth(month) is not { } kept ? "" : Order == DateOrder.YearMonthDay ? kept : $"{kept[5..]}/{kept[..4]}";

    /// <summary>An example for a field.</summary>
    public string Example => Written(new(2026, 11, 29));

    public string MonthExample => WrittenMonth("2021-05");

    /// <summary>Reads a day as it is written here, or as year-month-day.</summary>
    /// <returns>Null where it is no day.</returns>
    public DateOnly? Read(string? text)
    {
        string[] forms = [.. Order == DateOrder.MonthDayYear ? new[] { "M/d/yyyy", "M.d.yyyy", "M-d-yyyy" } : ["d/M/yyyy", "d.M.yyyy", "d-M-yyyy"], "yyyy-M-d"];
        return DateOnly.TryParseExact(text?.Trim(), forms, Words, DateTimeStyles.None, out var day) ? day : null;
    }

    /// <summary>Reads a month: 05/2021, 2021-05, May 2021.</summary>
    /// <returns>As it is kept, "2021-05"; null where it is no month.</returns>
    public static string? ReadMonth(string? text) =>
        DateOnly.TryParseExact(text?.Trim(), ["M/yyyy", "M.yyyy", "M-yyyy", "yyyy-M", "MMMM yyyy", "MMM yyyy"], Words, DateTimeStyles.None, out var month) ? month.ToString("yyyy-MM", Words) : null;
}
