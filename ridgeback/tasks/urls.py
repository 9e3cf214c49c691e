from django.urls import path

from ridgeback.tasks import views

app_name = "tasks"
urlpatterns = [
    path("enclosures/<int:pk>/tasks/", views.schedule, name="schedule"),
    path("enclosures/<int:pk>/tasks/pace/", views.set_pace, name="set-pace"),
    path("enclosures/<int:pk>/tasks/add/", views.add_task, name="add"),
    path("enclosures/<int:pk>/tasks/remove/", views.remove_task, name="remove"),
]
