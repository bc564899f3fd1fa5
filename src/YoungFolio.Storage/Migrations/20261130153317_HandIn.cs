using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace YoungFolio.Storage.Migrations
{
    /// <inheritdoc />
    public partial class HandIn : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Rules",
                table: "Manuscripts",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<int>(
                name: "HandedInId",
                table: "Letters",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "HandIns",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    ManuscriptId = table.Column<int>(type: "INTEGER", nullable: false),
                    Revision = table.Column<int>(type: "INTEGER", nullable: false),
                    PersonId = table.Column<int>(type: "INTEGER", nullable: false),
                    At = table.Column<DateTime>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false),
                    To = table.Column<string>(type: "TEXT", nullable: false),
                    Rules = table.Column<string>(type: "TEXT", nullable: false),
                    Pages = table.Column<int>(type: "INTEGER", nullable: false),
                    Words = table.Column<int>(type: "INTEGER", nullable: false),
                    ToMend = table.Column<int>(type: "INTEGER", nullable: false),
                    ToLook = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_HandIns", x => x.Id);
                    table.ForeignKey(
                        name: "FK_HandIns_Manuscripts_ManuscriptId",
                        column: x => x.ManuscriptId,
                        principalTable: "Manuscripts",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "SavedRules",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    PersonId = table.Column<int>(type: "INTEGER", nullable: false),
                    At = table.Column<DateTime>(type: "TEXT", nullable: false),
                    Values = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_SavedRules", x => x.Id);
                    table.ForeignKey(
                        name: "FK_SavedRules_People_PersonId",
                        column: x => x.PersonId,
                        principalTable: "People",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "HandedInFiles",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    HandedInId = table.Column<int>(type: "INTEGER", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    MediaType = table.Column<string>(type: "TEXT", nullable: false),
                    Size = table.Column<int>(type: "INTEGER", nullable: false),
                    Content = table.Column<byte[]>(type: "BLOB", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_HandedInFiles", x => x.Id);
                    table.ForeignKey(
                        name: "FK_HandedInFiles_HandIns_HandedInId",
                        column: x => x.HandedInId,
                        principalTable: "HandIns",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Letters_HandedInId",
                table: "Letters",
                column: "HandedInId");

            migrationBuilder.CreateIndex(
                name: "IX_HandedInFiles_HandedInId",
                table: "HandedInFiles",
                column: "HandedInId");

            migrationBuilder.CreateIndex(
                name: "IX_HandIns_ManuscriptId",
                table: "HandIns",
                column: "ManuscriptId");

            migrationBuilder.CreateIndex(
                name: "IX_SavedRules_PersonId_Name",
                table: "SavedRules",
                columns: new[] { "PersonId", "Name" },
                unique: true);

            migrationBuilder.AddForeignKey(
                name: "FK_Letters_HandIns_HandedInId",
                table: "Letters",
                column: "HandedInId",
                principalTable: "HandIns",
                principalColumn: "Id",
                onDelete: ReferentialAction.SetNull);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "FK_Letters_HandIns_HandedInId",
                table: "Letters");

            migrationBuilder.DropTable(
                name: "HandedInFiles");

            migrationBuilder.DropTable(
                name: "SavedRules");

            migrationBuilder.DropTable(
                name: "HandIns");

            migrationBuilder.DropIndex(
                name: "IX_Letters_HandedInId",
                table: "Letters");

            migrationBuilder.DropColumn(
                name: "Rules",
                table: "Manuscripts");

            migrationBuilder.DropColumn(
                name: "HandedInId",
                table: "Letters");
        }
    }
}
