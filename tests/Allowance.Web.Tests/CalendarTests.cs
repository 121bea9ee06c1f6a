namespace Allowance.Web.Tests;

/// <summary>Dates, the first day of the week and paper in the household's own form.</summary>
public sealed class CalendarTests : IAsyncLifetime
{
    private static readonly DateOnly Day = new(2026, 3, 9);

    private readonly TestHouse house = new(demo: true);

    public ValueTask InitializeAsync() => ValueTask.CompletedTask;

    public ValueTask DisposeAsync() => house.DisposeAsync();

    private static Calendar In(DateOrder order) => Calendar.Default with { Order = order };

    [Theory]
    [InlineData(DateOrder.DayMonthYear, "9 March 2026", "9 Mar", "09/03/2026", "05/2021")]
    [InlineData(DateOrder.MonthDayYear, "March 9, 2026", "Mar 9", "03/09/2026", "05/2021")]
    [InlineData(DateOrder.YearMonthDay, "2026-03-09", "2026-03-09", "2026-03-09", "2021-05")]
    public void A_day_is_written_and_read_in_the_same_order(DateOrder order, string day, string shortest, string written, string month)
    {
        var calendar = In(order);
        Assert.Equal((day, shortest, written, month), (calendar.Day(Day), calendar.Shortest(Day), calendar.Written(Day), calendar.WrittenMonth("2021-05")));
        Assert.Equal(Day, calendar.Read(written));
        Assert.Equal(Day, calendar.Read(" 2026-3-9 "));
        Assert.Equal("2021-05", Calendar.ReadMonth(month));
    }

    [Theory]
    [InlineData("3/9/2026", 9, 3), InlineData("9.3.2026", 3, 9), InlineData("31/02/2026", 0, 0), InlineData("rubbish", 0, 0), InlineData("", 0, 0), InlineData(null, 0, 0)]
    public void What_is_no_day_here_is_none(string? text, int month, int day) =>
        Assert.Equal(month == 0 ? null : new DateOnly(2026, month, day), In(DateOrder.DayMonthYear).Read(text));

    [Theory]
    [InlineData("May 2021", "2021-05"), InlineData("5/2021", "2021-05"), InlineData("2020-13", null), InlineData("May", null)]
    public void A_month_is_read_as_people_write_it(string text, string? month) => Assert.Equal(month, Calendar.ReadMonth(text));

    [Fact]
    public async Task What_the_house_chooses_holds_on_every_page_and_on_paper()
    {
        Assert.Contains("paper-a4", await house.Page("/logbook"), StringComparison.Ordinal);
        await house.Post("/house?handler=Calendar", ("order", "MonthDayYear"), ("firstDay", "Sunday"), ("paper", "Letter"));
        Assert.Equal(new Calendar(DateOrder.MonthDayYear, DayOfWeek.Sunday, Paper.Letter), house.Get<Household>().Calendar);
        string page = await house.Page("/logbook?from=12/31/2025");
        Assert.Contains("paper-letter", page, StringComparison.Ordinal);
        Assert.Contains("value=\"12/31/2025\"", page, StringComparison.Ordinal);
        Assert.Matches(@"[A-Z][a-z]{2} [A-Z][a-z]{2} \d{1,2}, \d{4}, \d\d:\d\d", page);
        // What is no such choice changes nothing.
        await house.Post("/house?handler=Calendar", ("order", "rubbish"), ("firstDay", "9"), ("paper", "A3"));
        Assert.Equal(Paper.Letter, house.Get<Household>().Calendar.Paper);
    }
}
