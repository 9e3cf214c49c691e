from django.urls import path

from ridgeback.reminders import views

app_name = "reminders"
urlpatterns = [path("letters/", views.letters, name="letters")]
