using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace YoungFolio.Storage.Migrations
{
    /// <inheritdoc />
    public partial class Files : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.RenameTable(
                name: "Parts",
                newName: "Files");

            migrationBuilder.RenameIndex(
                name: "IX_Parts_ManuscriptId_Path",
                table: "Files",
                newName: "IX_Files_ManuscriptId_Path");

            migrationBuilder.RenameColumn(
                name: "PartId",
                table: "Snapshots",
                newName: "FileId");

            migrationBuilder.RenameColumn(
                name: "PartVersion",
                table: "Revisions",
                newName: "FileVersion");

            migrationBuilder.RenameColumn(
                name: "PartId",
                table: "Revisions",
                newName: "FileId");

            migrationBuilder.RenameIndex(
                name: "IX_Revisions_PartId_PartVersion",
                table: "Revisions",
                newName: "IX_Revisions_FileId_FileVersion");

            migrationBuilder.RenameIndex(
                name: "IX_Revisions_PartId_Number",
                table: "Revisions",
                newName: "IX_Revisions_FileId_Number");

            migrationBuilder.RenameColumn(
                name: "MainPart",
                table: "Manuscripts",
                newName: "MainFile");

            // What earlier versions wrote down is read in the words of today.
            migrationBuilder.Sql("UPDATE Revisions SET Payload = 'main file: ' || SUBSTR(Payload, 12) WHERE Kind = 'setting' AND Payload LIKE 'main part: %'");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.RenameTable(
                name: "Files",
                newName: "Parts");

            migrationBuilder.RenameIndex(
                name: "IX_Files_ManuscriptId_Path",
                table: "Parts",
                newName: "IX_Parts_ManuscriptId_Path");

            migrationBuilder.RenameColumn(
                name: "FileId",
                table: "Snapshots",
                newName: "PartId");

            migrationBuilder.RenameColumn(
                name: "FileVersion",
                table: "Revisions",
                newName: "PartVersion");

            migrationBuilder.RenameColumn(
                name: "FileId",
                table: "Revisions",
                newName: "PartId");

            migrationBuilder.RenameIndex(
                name: "IX_Revisions_FileId_Number",
                table: "Revisions",
                newName: "IX_Revisions_PartId_Number");

            migrationBuilder.RenameIndex(
                name: "IX_Revisions_FileId_FileVersion",
                table: "Revisions",
                newName: "IX_Revisions_PartId_PartVersion");

            migrationBuilder.RenameColumn(
                name: "MainFile",
                table: "Manuscripts",
                newName: "MainPart");

            migrationBuilder.Sql("UPDATE Revisions SET Payload = 'main part: ' || SUBSTR(Payload, 12) WHERE Kind = 'setting' AND Payload LIKE 'main file: %'");
        }
    }
}
