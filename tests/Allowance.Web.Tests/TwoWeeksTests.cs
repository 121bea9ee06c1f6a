using System.Net;
using System.Text.RegularExpressions;
using Allowance.Core.Asks;
using Allowance.Core.Learner;
using Allowance.Core.Tuning;
using Allowance.Store;

namespace Allowance.Web.Tests;

/// <summary>Two weeks on the real screens: each evening what Today proposes is played with a made-up child, noted tap by tap, and closed.</summary>
public sealed partial class TwoWeeksTests
{
    private const int Evenings = 10, Turns = 14;

    private sealed class Kitchen(DateTimeOffset now) : TimeProvider
    {
        public DateTimeOffset Now { get; set; } = now;

        public override DateTimeOffset GetUtcNow() => Now;

        public override TimeZoneInfo LocalTimeZone => TimeZoneInfo.Utc;
    }

    [Theory, InlineData(4.2, 3), InlineData(6.6, 5)]
    public async Task What_is_proposed_can_be_played_noted_and_leads_on(double age, int seed)
    {
        var clock = new Kitchen(new(2026, 3, 2, 17, 0, 0, TimeSpan.Zero));
        await using var house = new TestHouse(clock: clock);
        var born = clock.Now.AddDays(-age * 365.25);
        long id = house.Get<Players>().Add("Otis", $"{born:yyyy-MM}", PlayerKind.Child);
        var household = house.Get<Household>();
        Offering.Whole(household.Cupboard);
        var child = new SteppingChild(seed, age);
        int asked = 0, right = 0;
        for (int evening = 0; evening < Evenings; evening++)
        {
            clock.Now = new DateTimeOffset(2026, 3, 2, 17, 0, 0, TimeSpan.Zero).AddDays(evening / 5 * 7 + evening % 5);
            string today = await house.Page($"/?here={id}&minutes=10");
            string link = WebUtility.HtmlDecode(Regex.Match(today, $"id=\"child-{id}\".*?name=\"link\" value=\"([^\"]+)\"", RegexOptions.Singleline).Groups[1].Value);
            Assert.NotEqual("", link);
            var (status, page, at) = await house.Post("/?handler=Play", ("link", link), ("way", "notes"));
            Assert.Equal(HttpStatusCode.OK, status);
            Assert.Matches("^/table/\\d+$", at.AbsolutePath);
            for (int turn = 0; turn < Turns && NoteForm().Match(page) is { Success: true } form; turn++)
            {
                clock.Now = clock.Now.AddSeconds(30);
                var ask = Ask.Parse(WebUtility.HtmlDecode(form.Groups["ask"].Value), out _)!.Value;
                var outcome = child.Answer(ask, DateOnly.FromDateTime(clock.Now.DateTime));
                asked++;
                right += outcome >= Outcome.CountedAll ? 1 : 0;
                (status, page, _) = await house.Post($"{at.AbsolutePath}?handler=Note", ("seat", "0"), ("ask", $"{ask}"), ("turn", form.Groups["turn"].Value), ("outcome", $"{(int)outcome}"));
                Assert.Equal(HttpStatusCode.OK, status);
            }
            await house.Post($"{at.AbsolutePath}?handler=Stop");
            (_, page, _) = await house.Post($"{at.AbsolutePath}?handler=Close&seat=0&how=Fine");
            // What could come next is said at the end.
            Assert.Contains("next-move", page, StringComparison.Ordinal);
        }
        Assert.InRange(asked, Evenings * Turns / 2, Evenings * Turns);
        Assert.Equal(asked, household.Log(household.Children[0]).Count);
        Assert.InRange(right / (double)asked, .5, .97);
        // Several games, and in each that came back one thing changed at most.
        var sat = house.Get<SittingLog>().LookedBackOn(id, 50).Select(l => house.Get<Tables>().SatAt(l.Head, id)!.Value).ToList();
        Assert.Equal(Evenings, sat.Count);
        Assert.InRange(sat.Select(s => s.Setup.Frame).Distinct().Count(), 4, Evenings);
        foreach (var game in sat.GroupBy(s => s.Setup.Frame))
            Assert.All(game.Zip(game.Skip(1)), pair => Assert.InRange(Threefold.Of(pair.First.Setup, pair.First.Seat).Changes(Threefold.Of(pair.Second.Setup, pair.Second.Seat)), 0, 1));
        foreach (string path in new[] { $"/growth/{id}", "/week", "/logbook", "/" }) await house.Page(path);
    }

    [GeneratedRegex("name=\"seat\" value=\"0\">\\s*<input type=\"hidden\" name=\"ask\" value=\"(?<ask>[^\"]+)\">\\s*<input type=\"hidden\" name=\"turn\" value=\"(?<turn>\\d+)\">")]
    private static partial Regex NoteForm();
}
