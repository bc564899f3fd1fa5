using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace YoungFolio.Storage.Migrations
{
    /// <inheritdoc />
    public partial class Safety : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<long>(
                name: "Stored",
                table: "Manuscripts",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0L);

            migrationBuilder.AddColumn<int>(
                name: "AskedByPersonId",
                table: "Invitations",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "EndedSessions",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Until = table.Column<DateTime>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_EndedSessions", x => x.Id);
                });

            // What there is already counts too: steps of texts, texts that are stored whole, and contents that once were a part's.
            migrationBuilder.Sql("""
                UPDATE Manuscripts SET Stored =
                    (SELECT COALESCE(SUM(LENGTH(r.Payload)), 0) FROM Revisions r WHERE r.ManuscriptId = Manuscripts.Id AND r.Kind = 'text')
                  + (SELECT COALESCE(SUM(LENGTH(s.Text)), 0) FROM Snapshots s JOIN Parts p ON p.Id = s.PartId WHERE p.ManuscriptId = Manuscripts.Id)
                  + (SELECT COALESCE(SUM(LENGTH(b.Bytes)), 0) FROM Revisions r JOIN Blobs b ON b.Hash = substr(r.Payload, instr(r.Payload, char(10)) + 1)
                     WHERE r.ManuscriptId = Manuscripts.Id AND r.Kind IN ('create', 'upload'));
                UPDATE People SET EmailConfirmed = 1 WHERE IsDemo = 1;
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "EndedSessions");

            migrationBuilder.DropColumn(
                name: "Stored",
                table: "Manuscripts");

            migrationBuilder.DropColumn(
                name: "AskedByPersonId",
                table: "Invitations");
        }
    }
}
