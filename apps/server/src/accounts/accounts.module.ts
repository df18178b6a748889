import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Account, KnownBrowser, Session } from './account.entity';
import { AccountsController } from './accounts.controller';
import { AccountsService } from './accounts.service';
import { GuessesService } from './guesses.service';
import { LinksService } from './links.service';
import { RecordsService } from './records.service';

@Module({
  imports: [TypeOrmModule.forFeature([Account, KnownBrowser, Session])],
  controllers: [AccountsController],
  providers: [AccountsService, GuessesService, LinksService, RecordsService],
  exports: [AccountsService, LinksService, RecordsService],
})
export class AccountsModule {}
