import { Module } from '@nestjs/common';
import { AsideService } from './aside.service';
import { DocumentsService } from './documents.service';
import { PicturesService } from './pictures.service';
import { PresenceService } from './presence.service';
import { ShowingService } from './showing.service';
import { VersionsService } from './versions.service';

const SERVICES = [AsideService, DocumentsService, PicturesService, PresenceService, ShowingService, VersionsService];

@Module({ providers: SERVICES, exports: SERVICES })
export class DocumentsModule {}
