using System.Security.Claims;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>A goal of writing.</summary>
/// <param name="Section">The section's title as printed; empty: all of it.</param>
/// <param name="Words">So many words; 0: none.</param>
public sealed record GoalView(string Section, int Words);

/// <summary>The words at the end of a day.</summary>
public sealed record DayView(DateOnly Day, int Words);

/// <summary>A remark that is left as it is.</summary>
public sealed record LeftView(int Id, string Code, string Message, string File, int Person, DateTime At);

/// <summary>A remark to leave as it is.</summary>
public sealed record Leaving(string? Code, string? Message, string? File);

/// <summary>What is kept with a manuscript for those who write in it.</summary>
/// <param name="Goals">Goals.</param>
/// <param name="Days">Words by day, the oldest first.</param>
/// <param name="Left">Remarks that are left as they are, the newest first.</param>
public sealed record WritingView(IReadOnlyList<GoalView> Goals, IReadOnlyList<DayView> Days, IReadOnlyList<LeftView> Left);

/// <summary>Goals and days of writing, and remarks that are left as they are.</summary>
public static class WritingApi
{
    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder manuscript)
    {
        RouteGroupBuilder group = manuscript.MapGroup("/writing");
        group.MapGet("/", async (int id, WritingStore writing) => new WritingView(
            [.. (await writing.GoalsAsync(id)).Select(g => new GoalView(g.Section, g.Words))],
            [.. (await writing.DaysAsync(id)).Select(d => new DayView(d.Day, d.Words))],
            [.. (await writing.LeftAsync(id)).Select(f => new LeftView(f.Id, f.Code, f.Message, f.File, f.PersonId, f.At))])).Needs(Role.Reader);
        group.MapPost("/goal", async (int id, GoalView goal, ClaimsPrincipal user, WritingStore writing) =>
        {
            await writing.SetGoalAsync(user.PersonId(), id, goal.Section, goal.Words);
            return Results.NoContent();
        }).Needs(Role.Author);
        group.MapPost("/left", async (int id, Leaving left, ClaimsPrincipal user, WritingStore writing) =>
        {
            if (left is not { Code.Length: > 0, Message.Length: > 0 })
            {
                return Results.Json(new Problem("Say which remark is to be left."), statusCode: 400);
            }

            await writing.LeaveAsync(user.PersonId(), id, left.Code, left.Message, left.File ?? "");
            return Results.NoContent();
        }).Needs(Role.Author);
        group.MapDelete("/left/{finding:int}", async (int id, int finding, ClaimsPrincipal user, WritingStore writing) =>
        {
            await writing.TakeUpAsync(user.PersonId(), id, finding);
            return Results.NoContent();
        }).Needs(Role.Author);
    }
}
